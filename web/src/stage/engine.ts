import * as THREE from 'three'
import { OrbitControls } from 'three/addons/controls/OrbitControls.js'
import type { Frame, MeshPart } from '../api/frames'
import type { Painted } from '../api/paint'
import type { Bone } from '../api/client'
import type { BoneFilter, Patch } from '../state/bench'
import { tokens } from '../theme/tokens'
import { ArrowsView } from './arrowsView'
import { BonesView } from './bonesView'
import { CapsulesView } from './capsulesView'
import { framed } from './framing'
import { light } from './lighting'
import { MarksView } from './marksView'
import { PartView, type Colours } from './partView'
import { stageQuality, type Quality } from './quality'
import type { View } from './views'

const FLIGHT = 260 // ms a camera flight takes
const TOUCHING = 0.3 // cm before a vertex within which nothing counts as hiding it
const NEAR = 0.5 // cm before the camera from which things are drawn
const FAR = 300 // and up to which
const NEAREST = 6 // cm the camera may come to what it looks at
const FARTHEST = 200
export const THUMB = { width: 160, height: 152 }

/** What the stage shows beside the posed points. */
export interface Shown {
  wires: (part: MeshPart) => boolean
  colours: Colours
  bones: boolean
  glass: (part: MeshPart) => boolean
  dark: boolean
  visible: (part: string) => boolean
}

export interface Hit {
  part: string
  vertex: number
}

/** A place on a part under the pointer, with the vertex of the true mesh that is nearest to it. */
export interface Spot extends Hit {
  point: [number, number, number]
}

export interface Ring {
  point: [number, number, number]
  radius: number
}

/** From the target of a view to its camera. */
function armOf(view: View): THREE.Vector3 {
  const azimuth = THREE.MathUtils.degToRad(view.azimuth)
  const elevation = THREE.MathUtils.degToRad(view.elevation)
  const way = new THREE.Vector3(Math.sin(azimuth) * Math.cos(elevation), Math.sin(elevation), Math.cos(azimuth) * Math.cos(elevation))
  return way.multiplyScalar(view.distance)
}

const PLAIN_RATIO = 0.7 // pixels drawn for one on screen where each costs: half as many

/** Near and far of a camera: a head in the wrong unit is a hundred times too large or too small, and must be seen all the same. */
function setDepth(camera: THREE.PerspectiveCamera, reach: number, near = NEAR) {
  camera.near = Math.min(near, reach * 0.9)
  camera.far = Math.max(FAR, reach * 4)
}

/** Draws the points it is given. It does not skin, blend or measure. Renders only when something changed. */
export class StageEngine {
  private readonly quality: Quality
  private readonly renderer: THREE.WebGLRenderer
  private readonly scene = new THREE.Scene()
  private readonly camera = new THREE.PerspectiveCamera(24, 1, NEAR, FAR)
  private readonly controls: OrbitControls
  private readonly bones = new BonesView()
  private readonly capsules = new CapsulesView()
  private readonly arrows = new ArrowsView()
  private readonly marker: THREE.Mesh
  private readonly marks: MarksView
  private marked: { places: Patch[]; colour: string } | null = null
  private parts = new Map<string, PartView>()
  private waiting = 0
  private flight: { from: THREE.Vector3[]; to: THREE.Vector3[]; start: number } | null = null
  private covered = 0
  private ring: Ring | null = null
  private shown: Shown | null = null
  /** Directions of the bones' own controls in the pose that is drawn. */
  handles: Float32Array | null = null
  /** Posed head and tail of each bone. */
  boneEnds: Float32Array = new Float32Array()
  private readonly watchers = new Set<() => void>()

  constructor(readonly canvas: HTMLCanvasElement) {
    this.quality = stageQuality()
    const fine = this.quality === 'fine'
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: fine, preserveDrawingBuffer: true })
    this.renderer.debug.checkShaderErrors = false // asking waits for the compiler
    this.renderer.setPixelRatio(fine ? Math.min(window.devicePixelRatio, 2) : PLAIN_RATIO)
    light(this.scene, this.renderer, this.quality)
    this.controls = new OrbitControls(this.camera, canvas)
    this.controls.enableDamping = false
    this.controls.addEventListener('change', () => this.draw())
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
    for (const view of this.parts.values()) {
      this.scene.remove(view.mesh, view.wires)
      view.dispose()
    }
    this.parts = new Map(parts.map((p) => [p.name, new PartView(p, this.quality)]))
    for (const view of this.parts.values()) this.scene.add(view.mesh, view.wires)
  }

  /** Digests of the points each part has, true or subdivided, so that the server leaves those out of the next frame. */
  known(smooth: boolean): Record<string, number> {
    const digests = [...this.parts].map(([name, view]) => [name, view.digest(smooth)] as const)
    return Object.fromEntries(digests.filter((d): d is [string, number] => d[1] !== null))
  }

  apply(frame: Frame, smooth: boolean) {
    for (const [name, part] of Object.entries(frame.parts)) this.parts.get(name)?.pose(part, smooth)
    for (const view of this.parts.values()) view.use(smooth)
    for (const [name, w] of Object.entries(frame.weights ?? {})) this.parts.get(name)?.weigh(w.own, w.total)
    if (frame.tint) this.tint(frame.tint)
    this.bones.pose(frame.bones, frame.handles ?? null)
    this.capsules.pose(frame.bones)
    this.boneEnds = frame.bones
    this.handles = frame.handles ?? null
    this.placeMarks()
    this.renderer.shadowMap.needsUpdate = true
    this.draw()
  }

  /** The largest difference that is coloured, a round number. */
  tintMost = 0

  private tint(differences: Record<string, Float32Array>) {
    const largest = Math.max(...Object.values(differences).map((d) => d.reduce((a, b) => Math.max(a, b), 0)))
    const tens = 10 ** Math.floor(Math.log10(Math.max(largest, 0.1)))
    this.tintMost = tens * ([1, 2, 5, 10].find((k) => k * tens >= largest - 1e-9) ?? 10)
    for (const [name, values] of Object.entries(differences)) this.parts.get(name)?.tint(values, this.tintMost)
  }

  /** Look from where another stage is looked at. */
  lookAs(other: StageEngine) {
    this.camera.copy(other.camera)
    this.controls.target.copy(other.controls.target)
    this.draw()
  }

  show(shown: Shown) {
    this.shown = shown
    this.scene.background = new THREE.Color(shown.dark ? tokens.stageDark : tokens.stage)
    this.bones.group.visible = shown.bones
    this.dress(shown)
    this.renderer.shadowMap.needsUpdate = true
    this.draw()
  }

  private dress(shown: Shown) {
    for (const [name, view] of this.parts) {
      view.mesh.visible = shown.visible(name)
      view.wires.visible = shown.wires(view.part) && view.mesh.visible
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
    for (const [name, view] of this.parts) view.isolate(patch && name === patch.part ? new Set(patch.vertices) : null)
    this.draw()
  }

  showCapsules(shown: { row: number; radii: [number, number] }[]) {
    this.capsules.show(shown)
    this.draw()
  }

  mark(point: [number, number, number] | null) {
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
    const wish = framed(places, this.parts, armOf(usual), this.camera.fov, margin)
    if (!wish) return false
    const open = wish.positions.find((position) => !this.hidden(position, wish.samples))
    const position = open ?? wish.positions[0]!
    this.flyTo(position, wish.target, false, open ? NEAR : position.distanceTo(wish.target) - wish.radius)
    return !open
  }

  /** Does something opaque stand between a camera and most of what it is to look at? */
  private hidden(position: THREE.Vector3, samples: THREE.Vector3[]): boolean {
    const meshes = this.opaque()
    const covered = samples.filter((point) => {
      const far = position.distanceTo(point)
      const ray = new THREE.Raycaster(position, point.clone().sub(position).normalize(), 0, far - TOUCHING)
      return ray.intersectObjects(meshes, false).length > 0
    })
    return covered.length > samples.length / 2
  }

  private opaque(): THREE.Mesh[] {
    const shown = [...this.parts.values()].filter((v) => v.mesh.visible && !(v.mesh.material as THREE.Material).transparent)
    return shown.map((v) => v.mesh)
  }

  /** Where a vertex of the true mesh is on the canvas; null where it looks away from the camera and nobody looks through. */
  projectVertex({ part, vertex }: Hit): { x: number; y: number } | null {
    const view = this.parts.get(part)
    if (!view || vertex * 3 + 2 >= view.points.length) return null
    const point = new THREE.Vector3().fromArray(view.points, vertex * 3)
    const normal = new THREE.Vector3().fromArray(view.normals, vertex * 3)
    const solid = !(view.mesh.material as THREE.Material).transparent
    if (solid && normal.dot(this.camera.position.clone().sub(point)) < 0) return null
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
    const p = new THREE.Vector3().fromArray(point).project(this.camera)
    if (!(Math.abs(p.z) <= 1)) return null // nor for what stands where the camera does
    return { x: ((p.x + 1) / 2) * this.canvas.clientWidth, y: ((1 - p.y) / 2) * this.canvas.clientHeight }
  }

  fly(view: View, at_once = false) {
    const target = new THREE.Vector3().fromArray(view.target)
    this.flyTo(target.clone().add(armOf(view)), target, at_once)
  }

  /** Look at a point from where the camera stands, closer. */
  frame(point: [number, number, number], distance: number) {
    const target = new THREE.Vector3().fromArray(point)
    const arm = this.camera.position.clone().sub(this.controls.target).setLength(distance)
    this.flyTo(target.clone().add(arm), target, false)
  }

  pickBone(x: number, y: number): string | null {
    return this.bones.group.visible ? this.bones.hit(this.ray(x, y)) : null
  }

  /** Where the surface of a part lies under a place on the canvas, whether it is looked through or not. */
  pointOn(part: string, x: number, y: number): [number, number, number] | null {
    const mesh = this.parts.get(part)?.mesh
    return mesh ? (this.ray(x, y).intersectObject(mesh, false)[0]?.point.toArray() ?? null) : null
  }

  /** The point under a place on the canvas that lies as deep as `through`. */
  pointBeside(through: [number, number, number], x: number, y: number): [number, number, number] | null {
    const way = this.camera.getWorldDirection(new THREE.Vector3())
    const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(way, new THREE.Vector3().fromArray(through))
    return this.ray(x, y).ray.intersectPlane(plane, new THREE.Vector3())?.toArray() ?? null
  }

  /** Posed points and normals of the true mesh of a part. */
  surface(part: string): { points: Float32Array; normals: Float32Array } | undefined {
    return this.parts.get(part)
  }

  /** Is a point in sight, or does something opaque stand before it? */
  sees(point: [number, number, number]): boolean {
    return !this.hidden(this.camera.position, [new THREE.Vector3().fromArray(point)])
  }

  /** From a point to the camera, of length one. */
  towardsCamera(point: [number, number, number]): THREE.Vector3 {
    return this.camera.position.clone().sub(new THREE.Vector3().fromArray(point)).normalize()
  }

  /** Centimetres that a pixel covers at a point. */
  pixelAt(point: [number, number, number]): number {
    const far = this.camera.position.distanceTo(new THREE.Vector3().fromArray(point))
    return (2 * far * Math.tan(THREE.MathUtils.degToRad(this.camera.fov / 2))) / this.canvas.clientHeight
  }

  ray(x: number, y: number): THREE.Raycaster {
    const ray = new THREE.Raycaster()
    const at = new THREE.Vector2((x / this.canvas.clientWidth) * 2 - 1, 1 - (y / this.canvas.clientHeight) * 2)
    ray.setFromCamera(at, this.camera)
    ray.near = this.camera.near
    return ray
  }

  pick(x: number, y: number): Hit | null {
    const spot = this.spot(x, y)
    return spot && { part: spot.part, vertex: spot.vertex }
  }

  spot(x: number, y: number): Spot | null {
    const hit = this.ray(x, y).intersectObjects(this.opaque(), false)[0]
    if (!hit || hit.faceIndex == null) return null
    const view = hit.object.userData.view as PartView
    return { part: view.part.name, vertex: view.vertexAt(hit.faceIndex, hit.point), point: hit.point.toArray() }
  }

  /** Where the head is looked at from. */
  eye(): [number, number, number] {
    return this.camera.position.toArray()
  }

  /** What a dab changed of a part, shown at once; the next frame brings all of it again. */
  paint(part: string, painted: Painted) {
    this.parts.get(part)?.paint(painted)
    this.renderer.shadowMap.needsUpdate = true
    this.draw()
  }

  /** The ring of the brush, drawn on whatever surface lies within its radius. */
  showRing(ring: Ring | null) {
    this.ring = ring
    for (const view of this.parts.values()) view.showRing(ring)
    this.draw()
  }

  /** How many pixels at the right edge something lies over. */
  cover(pixels: number) {
    this.covered = pixels
    this.resize()
  }

  resize() {
    const { clientWidth, clientHeight } = this.canvas
    if (!clientWidth || !clientHeight) return
    this.renderer.setSize(clientWidth, clientHeight, false)
    this.camera.aspect = clientWidth / clientHeight
    // what lies over the right edge leaves the middle of the rest to the head
    this.camera.setViewOffset(clientWidth, clientHeight, this.covered / 2, 0, clientWidth, clientHeight)
    this.draw()
  }

  draw() {
    if (this.waiting) return
    this.waiting = requestAnimationFrame(() => {
      this.waiting = 0
      this.step()
      const distance = this.camera.position.distanceTo(this.marker.position)
      this.marker.scale.setScalar(distance * 0.0028)
      this.renderer.render(this.scene, this.camera)
      for (const watcher of this.watchers) watcher()
    })
  }

  /** Small pictures of other poses, on the true meshes; the stage is left as it was. Several at once cost one more drawing of it, not one each. */
  picturesOf(frames: Frame[], view: View): string[] {
    const views = [...this.parts.values()]
    const shown = views.map((v) => ({ smooth: v.smooth, frame: v.keep() }))
    const ring = this.ring
    this.showRing(null)
    for (const v of views) v.use(false)
    const aids = [this.bones.group, this.capsules.group, this.arrows.group, this.marker, this.marks.group].map((aid) => ({ aid, visible: aid.visible }))
    for (const { aid } of aids) aid.visible = false
    if (this.shown) this.dress({ ...this.shown, wires: () => false, colours: 'nothing', glass: () => false })
    const made = frames.map((frame) => {
      for (const [name, part] of Object.entries(frame.parts)) this.parts.get(name)?.pose(part, false)
      return this.picture(view, THUMB)
    })
    views.forEach((v, k) => {
      v.restore(shown[k]!.frame)
      v.use(shown[k]!.smooth)
    })
    this.showRing(ring)
    for (const { aid, visible } of aids) aid.visible = visible
    if (this.shown) this.dress(this.shown)
    this.renderer.render(this.scene, this.camera)
    return made
  }

  /**
   * A small picture from a view of its own, of what is on the stage. It is drawn into a corner of the canvas, where it stays until that
   * is drawn again: a second canvas would have to load everything twice.
   */
  picture(view: View, size: { width: number; height: number }): string {
    const { width, height } = size
    const camera = this.camera.clone()
    setDepth(camera, view.distance)
    const azimuth = THREE.MathUtils.degToRad(view.azimuth)
    const target = new THREE.Vector3().fromArray(view.target)
    camera.position.set(Math.sin(azimuth) * view.distance, view.distance * 0.05, Math.cos(azimuth) * view.distance).add(target)
    camera.lookAt(target)
    camera.clearViewOffset()
    camera.aspect = width / height
    camera.updateProjectionMatrix()
    const copy = document.createElement('canvas')
    const ratio = this.renderer.getPixelRatio()
    copy.width = width * ratio
    copy.height = height * ratio
    this.renderer.setScissorTest(true)
    this.renderer.setScissor(0, 0, width, height)
    this.renderer.setViewport(0, 0, width, height)
    this.renderer.render(this.scene, camera)
    copy.getContext('2d')?.drawImage(this.canvas, 0, this.canvas.height - copy.height, copy.width, copy.height, 0, 0, copy.width, copy.height)
    this.renderer.setViewport(0, 0, this.canvas.clientWidth, this.canvas.clientHeight)
    this.renderer.setScissorTest(false)
    return copy.toDataURL('image/jpeg', 0.9)
  }

  dispose() {
    cancelAnimationFrame(this.waiting)
    this.controls.dispose()
    this.marks.dispose()
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
    const reach = position.distanceTo(target)
    setDepth(this.camera, reach, near)
    this.camera.updateProjectionMatrix()
    this.controls.minDistance = Math.min(NEAREST, reach * 0.3)
    this.controls.maxDistance = Math.max(FARTHEST, reach * 2)
    this.flight = {
      from: [this.camera.position.clone(), this.controls.target.clone()],
      to: [position, target],
      start: at_once ? -Infinity : performance.now(),
    }
    this.canvas.dataset.flying = 'true'
    this.draw()
  }

  private step() {
    if (!this.flight) return
    const { from, to, start } = this.flight
    const t = Math.min(1, (performance.now() - start) / FLIGHT)
    const eased = t * t * (3 - 2 * t)
    this.camera.position.lerpVectors(from[0]!, to[0]!, eased)
    this.controls.target.lerpVectors(from[1]!, to[1]!, eased)
    this.camera.lookAt(this.controls.target)
    if (t >= 1) {
      this.flight = null
      this.canvas.dataset.flying = 'false'
      this.controls.update()
    } else this.draw()
  }
}
