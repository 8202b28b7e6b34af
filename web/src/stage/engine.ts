import * as THREE from 'three'
import type { Frame, FramePart, MeshPart } from '../api/frames'
import type { Painted } from '../api/paint'
import type { PartShading } from '../api/shading'
import type { Bone } from '../api/client'
import type { BoneFilter } from '../state/work/landmarks'
import type { Patch } from '../state/work/patch'
import { tokens } from '../theme/tokens'
import { ArrowsView } from './arrowsView'
import { BonesView } from './bonesView'
import { armOf, calm, CameraRig, NEAR } from './cameraRig'
import { Exposures } from './exposures'
import { CapsulesView } from './capsulesView'
import { framed, hidden } from './framing'
import { Ground } from './looks/ground'
import { Key } from './looks/key'
import { stageUniforms } from './looks/partMaterial'
import { MarksView } from './marksView'
import { PartView, type Colours } from './partView'
import { stageQuality, type Quality } from './quality'
import type { Shown } from './shown'
import { smallPicture } from './smallPicture'
import type { Hit, Ring, Spot } from './spots'
import { Tinting } from './tints'
import type { View } from './views'

const MELT = 240 // ms in which what an edit changed goes over into what it is now
export const THUMB = { width: 168, height: 152 }

/** A part that goes over from one frame into another. */
interface Melt {
  view: PartView
  from: FramePart
  to: FramePart
  smooth: boolean
}

const PLAIN_RATIO = 0.7 // pixels drawn for one on screen where each costs: half as many

/** Draws the points it is given. It does not skin, blend or measure. Renders only when something changed. */
export class StageEngine {
  private readonly quality: Quality
  private readonly renderer: THREE.WebGLRenderer
  private readonly scene = new THREE.Scene()
  private readonly ground = new Ground()
  private readonly uniforms = stageUniforms()
  private readonly key: Key
  private readonly rig: CameraRig
  private readonly bones = new BonesView()
  private readonly capsules = new CapsulesView()
  private readonly arrows = new ArrowsView()
  private readonly marker: THREE.Mesh
  private readonly marks: MarksView
  private marked: { places: Patch[]; colour: string } | null = null
  private parts = new Map<string, PartView>()
  private waiting = 0
  private readonly exposures: Exposures | null
  private ring: Ring | null = null
  private isolated: Patch | null = null
  private revision = 0
  private melting: { parts: Melt[]; start: number } | null = null
  private shown: Shown | null = null
  readonly tinting = new Tinting((part, values, most) => this.parts.get(part)?.tint(values, most))
  /** Directions of the bones' own controls in the pose that is drawn. */
  handles: Float32Array | null = null
  /** Posed head and tail of each bone. */
  boneEnds: Float32Array = new Float32Array()
  private readonly watchers = new Set<() => void>()
  /** Called when the hand begins to turn the camera. */
  onTaken: () => void = () => {}

  constructor(readonly canvas: HTMLCanvasElement) {
    this.quality = stageQuality()
    const fine = this.quality === 'fine'
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: fine, preserveDrawingBuffer: true })
    this.renderer.debug.checkShaderErrors = false // asking waits for the compiler
    this.renderer.setPixelRatio(fine ? Math.min(window.devicePixelRatio, 2) : PLAIN_RATIO * Math.min(window.devicePixelRatio, 1))
    this.key = new Key(this.scene, this.renderer, this.quality)
    this.scene.add(this.ground.mesh)
    // whichever camera draws: a small picture is never cut
    this.scene.onBeforeRender = (_renderer, _scene, camera) => {
      const { near } = camera as THREE.PerspectiveCamera
      this.uniforms.uCut.value = near > NEAR ? near : 0
    }
    this.rig = new CameraRig(canvas, () => this.draw(), () => this.onTaken())
    this.exposures = fine ? new Exposures(this.renderer, this.scene, this.rig, this.key) : null
    this.marker = new THREE.Mesh(
      new THREE.SphereGeometry(1, 16, 12),
      new THREE.MeshBasicMaterial({ color: tokens.card, depthTest: false, transparent: true }),
    )
    this.marker.renderOrder = 20
    this.marker.visible = false
    this.marks = new MarksView(this.renderer.getPixelRatio())
    this.scene.add(this.bones.group, this.capsules.group, this.arrows.group, this.marker, this.marks.group)
  }

  load(parts: MeshPart[]) {
    this.tinting.forget()
    for (const view of this.parts.values()) {
      this.scene.remove(view.mesh, view.wires, view.veil)
      view.dispose()
    }
    this.parts = new Map(parts.map((p) => [p.name, new PartView(p, this.quality, this.uniforms)]))
    for (const view of this.parts.values()) this.scene.add(view.mesh, view.wires, view.veil)
    delete this.canvas.dataset.shaded
  }

  /** What light needs to know of the parts; until it has come they stand under an open sky. */
  shade(shadings: Record<string, PartShading>) {
    for (const [name, shading] of Object.entries(shadings)) this.parts.get(name)?.shade(shading)
    this.turnParts()
    if (this.shown) this.dress(this.shown)
    this.canvas.dataset.shaded = 'true'
    this.renderer.shadowMap.needsUpdate = true
    this.draw()
  }

  private turnParts() {
    const skin = [...this.parts.values()].find((view) => view.part.kind === 'skin') ?? null
    for (const view of this.parts.values()) view.turn(skin)
  }

  /** Digests of the points each part has, true or subdivided, so that the server leaves those out of the next frame. */
  known(smooth: boolean): Record<string, number> {
    const digests = [...this.parts].map(([name, view]) => [name, view.digest(smooth)] as const)
    return Object.fromEntries(digests.filter((d): d is [string, number] => d[1] !== null))
  }

  apply(frame: Frame, smooth: boolean) {
    const edited = this.revision !== 0 && this.revision !== frame.revision && this.quality === 'fine' && !calm()
    this.revision = frame.revision
    this.settle()
    const melts: Melt[] = []
    for (const [name, part] of Object.entries(frame.parts)) {
      const view = this.parts.get(name)
      const from = edited ? view?.keepShown(smooth) : null
      view?.pose(part, smooth)
      if (view && from?.points.length === part.points.length) melts.push({ view, from, to: part, smooth })
    }
    if (melts.length) this.melting = { parts: melts, start: performance.now() }
    for (const view of this.parts.values()) view.use(smooth)
    this.turnParts()
    for (const [name, w] of Object.entries(frame.weights ?? {})) this.parts.get(name)?.weigh(w.own, w.total)
    if (frame.tint) this.tinting.show(frame.tint)
    this.bones.pose(frame.bones, frame.handles ?? null)
    this.capsules.pose(frame.bones)
    this.boneEnds = frame.bones
    this.handles = frame.handles ?? null
    this.placeMarks()
    this.renderer.shadowMap.needsUpdate = true
    this.draw()
  }

  /** Colours differences up to so many mm or %; null for what suits them. */
  tintUpTo(most: number | null) {
    if (this.tinting.upTo(most)) this.draw()
  }

  /** Look from where another stage is looked at. */
  lookAs(other: StageEngine) {
    this.rig.lookAs(other.rig)
    this.draw()
  }

  show(shown: Shown) {
    this.shown = shown
    this.ground.colour(shown.dark ? tokens.stageDark : tokens.stage)
    this.bones.group.visible = shown.bones
    this.dress(shown)
    this.renderer.shadowMap.needsUpdate = true
    this.draw()
  }

  private dress(shown: Shown) {
    this.uniforms.uGlass.value = [...this.parts.values()].some((view) => shown.glass(view.part)) ? 1 : 0
    for (const [name, view] of this.parts) {
      view.mesh.visible = shown.visible(name)
      view.showWires(shown.wires(view.part) && view.mesh.visible)
      view.colourBy(shown.colours)
      view.glass(shown.glass(view.part))
    }
  }

  showBones(bones: Bone[], filter: BoneFilter, picked: string | null) {
    this.bones.show(bones, filter, picked)
    this.draw()
  }

  showArrows(ends: number[]) {
    this.arrows.show(ends)
    this.draw()
  }

  /** Draws nothing but what lies between some vertices of a part; null for everything. */
  isolate(patch: Patch | null) {
    this.isolated = patch
    this.narrow(patch)
    this.draw()
  }

  private narrow(patch: Patch | null) {
    for (const [name, view] of this.parts) view.isolate(patch && name === patch.part ? new Set(patch.vertices) : null)
  }

  showCapsules(shown: { row: number; radii: [number, number] }[]) {
    this.capsules.show(shown)
    this.draw()
  }

  mark(point: [number, number, number] | null) {
    if (!point && !this.marker.visible) return
    this.marker.visible = point !== null
    if (point) this.marker.position.fromArray(point)
    this.draw()
  }

  /** Dots on vertices of the true mesh. */
  markVertices(places: Patch[], colour: string) {
    this.marked = { places, colour }
    this.placeMarks()
    this.draw()
  }

  /** Threads between pairs of points: from where something is to where it would be. */
  thread(ends: number[]) {
    this.marks.spin(new Float32Array(ends))
    this.draw()
  }

  /**
   * Look at vertices of the true mesh from outside, close enough to tell them apart; closed bodies from the `usual` view. What lies
   * inside the head is looked at with the head cut open before it. Says whether it is.
   */
  frameVertices(places: Patch[], usual: View, margin?: number): boolean {
    const wish = framed(places, this.parts, armOf(usual), this.rig.camera.fov, margin)
    if (!wish) return false
    const open = wish.positions.find((position) => !hidden(position, wish.samples, this.opaque()))
    const position = open ?? wish.positions[0]!
    this.flyTo(position, wish.target, false, open ? NEAR : position.distanceTo(wish.target) - wish.radius)
    return !open
  }

  private opaque(): THREE.Mesh[] {
    const shown = [...this.parts.values()].filter((v) => v.mesh.visible && !(v.mesh.material as THREE.Material).transparent)
    for (const view of shown) view.meetRay()
    return shown.map((v) => v.mesh)
  }

  /** Where a vertex of the true mesh is on the canvas; null where it looks away from the camera and nobody looks through. */
  projectVertex({ part, vertex }: Hit): { x: number; y: number } | null {
    const view = this.parts.get(part)
    if (!view || vertex * 3 + 2 >= view.points.length) return null
    const point = new THREE.Vector3().fromArray(view.points, vertex * 3)
    const normal = new THREE.Vector3().fromArray(view.normals, vertex * 3)
    const solid = !(view.mesh.material as THREE.Material).transparent
    if (solid && normal.dot(this.rig.camera.position.clone().sub(point)) < 0) return null
    return this.project(point.toArray())
  }

  /** Call `watcher` now and after each picture drawn, until the returned function is called. */
  watch(watcher: () => void): () => void {
    this.watchers.add(watcher)
    watcher()
    return () => void this.watchers.delete(watcher)
  }

  /** Where a point of the head is on the canvas, in CSS pixels; null behind the camera. */
  project(point: [number, number, number]): { x: number; y: number } | null {
    return this.rig.project(point)
  }

  fly(view: View, at_once = false) {
    const target = new THREE.Vector3().fromArray(view.target)
    this.flyTo(target.clone().add(armOf(view)), target, at_once)
  }

  /** Look at a point from where the camera stands, closer. */
  frame(point: [number, number, number], distance: number) {
    const target = new THREE.Vector3().fromArray(point)
    const arm = this.rig.camera.position.clone().sub(this.rig.target).setLength(distance)
    this.flyTo(target.clone().add(arm), target, false)
  }

  /** Turns the camera about what it looks at, degrees to the left and up. */
  turn(across: number, up: number) {
    this.rig.turn(across, up)
    this.draw()
  }

  /** Goes nearer by a factor below one, farther by one above. */
  near(factor: number) {
    this.rig.near(factor)
    this.draw()
  }

  pickBone(x: number, y: number): string | null {
    return this.bones.group.visible ? this.bones.hit(this.ray(x, y)) : null
  }

  /** Where the surface of a part lies under a place on the canvas, whether it is looked through or not. */
  pointOn(part: string, x: number, y: number): [number, number, number] | null {
    const view = this.parts.get(part)
    view?.meetRay()
    return view ? (this.ray(x, y).intersectObject(view.mesh, false)[0]?.point.toArray() ?? null) : null
  }

  /** The point under a place on the canvas that lies as deep as `through`. */
  pointBeside(through: [number, number, number], x: number, y: number): [number, number, number] | null {
    const way = this.rig.camera.getWorldDirection(new THREE.Vector3())
    const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(way, new THREE.Vector3().fromArray(through))
    return this.ray(x, y).ray.intersectPlane(plane, new THREE.Vector3())?.toArray() ?? null
  }

  /** Posed points and normals of the true mesh of a part. */
  surface(part: string): { points: Float32Array; normals: Float32Array } | undefined {
    return this.parts.get(part)
  }

  /** Is a point in sight, or does something opaque stand before it? */
  sees(point: [number, number, number]): boolean {
    return !hidden(this.rig.camera.position, [new THREE.Vector3().fromArray(point)], this.opaque())
  }

  /** From a point to the camera, of length one. */
  towardsCamera(point: [number, number, number]): THREE.Vector3 {
    return this.rig.towards(point)
  }

  /** Centimetres that a pixel covers at a point. */
  pixelAt(point: [number, number, number]): number {
    return this.rig.pixelAt(point)
  }

  ray(x: number, y: number): THREE.Raycaster {
    return this.rig.ray(x, y)
  }

  pick(x: number, y: number): Hit | null {
    const spot = this.spot(x, y)
    return spot && { part: spot.part, vertex: spot.vertex }
  }

  spot(x: number, y: number): Spot | null {
    const hit = this.first(this.ray(x, y))
    if (!hit || hit.faceIndex == null) return null
    const view = hit.object.userData.view as PartView
    return { part: view.part.name, vertex: view.vertexAt(hit.faceIndex, hit.point), point: hit.point.toArray() }
  }

  /** Where a ray first meets something that is not looked through. */
  private first(ray: THREE.Raycaster): THREE.Intersection | undefined {
    ray.firstHitOnly = true
    return ray.intersectObjects(this.opaque(), false)[0]
  }

  /** What is looked at. */
  target(): [number, number, number] {
    return this.rig.target.toArray()
  }

  /** Where the head is looked at from. */
  eye(): [number, number, number] {
    return this.rig.camera.position.toArray()
  }

  /** What a dab changed of a part, shown at once; the next frame brings all of it again. */
  paint(part: string, painted: Painted) {
    this.parts.get(part)?.paint(painted)
    for (const [name, moved] of Object.entries(painted.others)) this.parts.get(name)?.takeAlong(moved)
    this.renderer.shadowMap.needsUpdate = true
    this.draw()
  }

  /** The ring of the brush, drawn on whatever surface lies within its radius. */
  showRing(ring: Ring | null) {
    this.ring = ring
    for (const view of this.parts.values()) view.showRing(ring)
    this.draw()
  }

  resize() {
    const { clientWidth, clientHeight } = this.canvas
    if (!clientWidth || !clientHeight) return
    this.renderer.setSize(clientWidth, clientHeight, false)
    this.rig.camera.aspect = clientWidth / clientHeight
    this.ground.aspect(this.rig.camera.aspect)
    this.rig.aim(0, 0)
    this.draw()
  }

  draw() {
    this.exposures?.stop()
    if (this.waiting || !this.revision) return // before the first frame there is nothing to draw
    this.waiting = requestAnimationFrame(() => {
      this.waiting = 0
      this.exposures?.stop() // begun since this picture was asked for, they would be laid over the next ones
      this.step()
      const distance = this.rig.camera.position.distanceTo(this.marker.position)
      this.marker.scale.setScalar(distance * 0.0028)
      this.uniforms.uNear.value = THREE.MathUtils.clamp(1.6 - this.rig.distance / 38, 0, 1)
      this.renderer.render(this.scene, this.rig.camera)
      for (const watcher of this.watchers) watcher()
      this.rest()
    })
  }

  /** Nothing changes any more, for now. */
  private rest() {
    const whole = this.canvas.dataset.shaded === 'true' // before that the picture is not what it will be
    if (whole && !this.rig.flying && !this.melting) this.exposures?.await()
  }

  /** Small pictures of other poses, on the true meshes; the stage is left as it was. Several at once cost one more drawing of it, not one each. */
  picturesOf(frames: Frame[], view: View, colours: Colours = 'nothing'): string[] {
    this.exposures?.stop()
    this.settle()
    const views = [...this.parts.values()]
    const shown = views.map((v) => ({ smooth: v.smooth, frame: v.keep(), weights: v.keepWeights() }))
    const ring = this.ring
    this.showRing(null)
    for (const v of views) v.use(false)
    const aids = [this.bones.group, this.capsules.group, this.arrows.group, this.marker, this.marks.group].map((aid) => ({ aid, visible: aid.visible }))
    for (const { aid } of aids) aid.visible = false
    if (this.shown) this.dress({ ...this.shown, wires: () => false, colours, glass: () => false, visible: () => true })
    this.narrow(null)
    this.ground.colour(tokens.stage)
    const made = frames.map((frame) => {
      for (const [name, w] of Object.entries(frame.weights ?? {})) this.parts.get(name)?.weigh(w.own, w.total)
      for (const [name, part] of Object.entries(frame.parts)) this.parts.get(name)?.pose(part, false)
      this.turnParts()
      this.renderer.shadowMap.needsUpdate = true // each throws its own
      return this.picture(view, THUMB)
    })
    views.forEach((v, k) => {
      v.restore(shown[k]!.frame)
      shown[k]!.weights()
      v.use(shown[k]!.smooth)
    })
    this.turnParts()
    this.showRing(ring)
    for (const { aid, visible } of aids) aid.visible = visible
    this.narrow(this.isolated)
    if (this.shown) this.show(this.shown)
    else this.draw() // before the page is shown again
    return made
  }

  /** A small picture from a view of its own, of what is on the stage. */
  picture(view: View, size: { width: number; height: number }): string {
    return smallPicture(this.renderer, this.scene, this.rig.camera, view, size)
  }

  dispose() {
    cancelAnimationFrame(this.waiting)
    this.exposures?.dispose()
    this.rig.dispose()
    this.marks.dispose()
    this.ground.dispose()
    for (const view of this.parts.values()) view.dispose()
    this.renderer.dispose()
  }

  private placeMarks() {
    if (!this.marked) return
    const found = this.marked.places.flatMap(({ part, vertices }) => {
      const points = this.parts.get(part)?.points ?? []
      return vertices.filter((v) => v * 3 + 2 < points.length).flatMap((v) => [points[v * 3]!, points[v * 3 + 1]!, points[v * 3 + 2]!])
    })
    this.marks.place(new Float32Array(found), this.marked.colour)
  }

  private flyTo(position: THREE.Vector3, target: THREE.Vector3, at_once: boolean, near = NEAR) {
    this.rig.flyTo(position, target, at_once, near)
    for (const view of this.parts.values()) view.cut(near > NEAR)
    this.draw()
  }

  /** Ends what is going over into something else. */
  private settle() {
    for (const { view, to, smooth } of this.melting?.parts ?? []) view.pose(to, smooth)
    this.melting = null
  }

  private melt() {
    if (!this.melting) return
    const t = (performance.now() - this.melting.start) / MELT
    if (t >= 1) this.settle()
    else {
      for (const { view, from, to, smooth } of this.melting.parts) view.between(from, to, t * t * (3 - 2 * t), smooth)
      this.draw()
    }
    this.renderer.shadowMap.needsUpdate = true
  }

  private step() {
    this.melt()
    if (this.rig.step()) this.draw()
  }
}
