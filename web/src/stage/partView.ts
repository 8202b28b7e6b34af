import * as THREE from 'three'
import { acceleratedRaycast, MeshBVH } from 'three-mesh-bvh'
import type { Drawable, FramePart, MeshPart } from '../api/frames'
import type { Moved, Painted } from '../api/paint'
import type { PartShading, SurfaceShading } from '../api/shading'
import type { Ring } from './spots'
import { byColour } from './byColour'
import { bareColour, eyeUniforms, IRIS_DEPTH, partMaterial, type EyeUniforms, type PartUniforms, type StageUniforms } from './looks/partMaterial'
import { frameOf, turnBetween } from './looks/turn'
import { wireMaterial } from './looks/wires'
import type { Quality } from './quality'

/** What a surface may be coloured by, in the order of their numbers in the shader. */
const COLOURS = ['nothing', 'weights', 'difference'] as const
export type Colours = (typeof COLOURS)[number]

const VEIL = 10 // place in the order of drawing: after all that is solid

const toLinear = (c: number) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4)

/** One of the two meshes of a part. Where polygons have colours, a vertex is drawn once for each colour that meets in it. */
class Surface {
  readonly geometry = new THREE.BufferGeometry()
  digest: number | null = null
  points: Float32Array = new Float32Array()
  normals: Float32Array = new Float32Array()
  /** The vertex of the mesh that each drawn one stands for; null where they are the same. */
  private readonly owners: Uint32Array | null
  private readonly index: Uint32Array
  private isolated = false
  private numbers: number[] | null = null
  /** Boxes round the triangles, by which rays find them; made when a ray is first sent, and moved along after. */
  private boxes: MeshBVH | null = null
  private moved = false

  constructor(
    readonly drawn: Drawable,
    bare: number[],
  ) {
    const corners = drawn.faceColours && byColour(drawn.triangles, drawn.faceColours)
    this.owners = corners?.owners ?? null
    this.index = corners?.index ?? drawn.triangles
    const count = this.owners?.length ?? drawn.count
    for (const [name, width] of [['position', 3], ['normal', 3], ['color', 3], ['weight', 2]] as const)
      this.geometry.setAttribute(name, new THREE.BufferAttribute(new Float32Array(count * width), width))
    // until it is known how much sky there is, there is all of it
    const sky = new Uint8Array(count * 2)
    for (let i = 0; i < sky.length; i += 2) sky[i] = 255
    this.geometry.setAttribute('baked', new THREE.BufferAttribute(sky, 2, true))
    this.geometry.setIndex(new THREE.BufferAttribute(this.index, 1))
    const source = corners?.colours ?? drawn.colours
    const colour = this.attribute('color')
    const plain = bare.map(toLinear)
    for (let i = 0; i < count * 3; i++) colour[i] = source ? toLinear(source[i]!) : plain[i % 3]!
  }

  /** What light needs to know of each vertex. */
  shade({ sky, thin, rest, strands }: SurfaceShading) {
    const count = this.owners?.length ?? this.drawn.count
    const owner = (i: number) => this.owners?.[i] ?? i
    const baked = this.geometry.getAttribute('baked')
    for (let i = 0; i < count; i++) baked.setXY(i, sky[owner(i)]! / 255, (thin?.[owner(i)] ?? 0) / 255)
    baked.needsUpdate = true
    const spread = <T extends Float32Array | Int8Array>(source: T, made: T): T => {
      for (let i = 0; i < count; i++) for (let k = 0; k < 3; k++) made[i * 3 + k] = source[owner(i) * 3 + k]!
      return made
    }
    if (rest) this.geometry.setAttribute('rest', new THREE.BufferAttribute(spread(rest, new Float32Array(count * 3)), 3))
    if (strands) this.geometry.setAttribute('strand', new THREE.BufferAttribute(spread(strands, new Int8Array(count * 3)), 3, true))
  }

  pose(part: FramePart) {
    this.digest = part.digest
    this.points = part.points
    this.normals = part.normals
    this.copy('position', part.points)
    this.copy('normal', part.normals)
    this.moved = true
  }

  weigh(own: Float32Array, total: Float32Array) {
    const target = this.attribute('weight')
    const count = this.owners?.length ?? this.drawn.count
    for (let i = 0; i < count; i++) {
      const v = this.owners?.[i] ?? i
      target[i * 2] = own[v]!
      target[i * 2 + 1] = total[v]!
    }
    this.geometry.getAttribute('weight').needsUpdate = true
  }

  /** New points, normals and weights of some vertices. What was drawn is no longer what a frame brought. */
  paint({ vertices, own, total, points, normals }: Painted) {
    this.digest = null
    const row = new Map(Array.from(vertices, (v, k) => [v, k]))
    const [position, normal, weight] = [this.attribute('position'), this.attribute('normal'), this.attribute('weight')]
    const change = (v: number, at: number) => {
      const k = row.get(v)
      if (k === undefined) return
      position.set(points.subarray(k * 3, k * 3 + 3), at * 3)
      normal.set(normals.subarray(k * 3, k * 3 + 3), at * 3)
      weight[at * 2] = own[k]!
      weight[at * 2 + 1] = total[k]!
    }
    if (this.owners) this.owners.forEach(change)
    else vertices.forEach((v) => change(v, v))
    for (const name of ['position', 'normal', 'weight']) this.geometry.getAttribute(name).needsUpdate = true
    this.moved = true
  }

  /** Ready for a ray: its boxes are where its triangles are drawn. */
  meetRay() {
    if (!this.boxes) this.geometry.boundsTree = this.boxes = new MeshBVH(this.geometry, { indirect: true })
    else if (this.moved) this.boxes.refit()
    this.moved = false
  }

  /** The number of a triangle that is drawn, among all. */
  numberOf(drawn: number): number {
    return this.numbers?.[drawn] ?? drawn
  }

  /** Draws only the triangles that pass; null for all of them. */
  only(passes: ((a: number, b: number, c: number, triangle: number) => boolean) | null) {
    if (!passes && !this.isolated) return
    this.isolated = passes !== null
    this.numbers = null
    this.boxes = null
    if (!passes) return void this.geometry.setIndex(new THREE.BufferAttribute(this.index, 1))
    const { triangles } = this.drawn
    const kept: number[] = []
    this.numbers = []
    for (let t = 0; t < triangles.length / 3; t++) {
      if (!passes(triangles[t * 3]!, triangles[t * 3 + 1]!, triangles[t * 3 + 2]!, t)) continue
      kept.push(...this.index.subarray(t * 3, t * 3 + 3))
      this.numbers.push(t)
    }
    this.geometry.setIndex(kept)
  }

  private attribute(name: string) {
    return this.geometry.getAttribute(name).array as Float32Array
  }

  private copy(name: string, source: Float32Array) {
    const target = this.attribute(name)
    if (this.owners) this.owners.forEach((v, i) => target.set(source.subarray(v * 3, v * 3 + 3), i * 3))
    else target.set(source)
    this.geometry.getAttribute(name).needsUpdate = true
  }
}

/** A part on the stage: its true mesh with wires, and its subdivision. */
export class PartView {
  readonly mesh: THREE.Mesh
  readonly wires: THREE.LineSegments
  smooth = false
  private readonly coarse: Surface
  private subdivided: Surface | null = null
  private only: ReadonlySet<number> | null = null
  /** Drawn before what is looked through, into the depth alone: of several sheets of glass only the nearest is seen. */
  readonly veil: THREE.Mesh
  private readonly uniforms: PartUniforms
  private shading: PartShading | null = null
  private eye: EyeUniforms | null = null
  /** What the attribute of the surface holds, and what the surface is to be coloured by. */
  private held: Colours = 'nothing'
  private wanted: Colours = 'nothing'

  constructor(
    readonly part: MeshPart,
    private readonly quality: Quality,
    stage: StageUniforms,
  ) {
    this.uniforms = { ...stage, uColours: { value: 0 }, uRing: { value: new THREE.Vector4() }, uTurn: { value: new THREE.Matrix3() } }
    this.coarse = new Surface(part, bareColour(part.kind))
    this.mesh = new THREE.Mesh(this.coarse.geometry, partMaterial(part.kind, this.uniforms, quality, null))
    this.mesh.castShadow = this.mesh.receiveShadow = true
    this.mesh.frustumCulled = false // to find where it ends takes longer, in each pose, than to draw what nobody sees
    this.mesh.userData = { view: this }
    this.mesh.raycast = acceleratedRaycast
    this.veil = new THREE.Mesh(this.coarse.geometry, new THREE.MeshBasicMaterial({ colorWrite: false, polygonOffset: true, polygonOffsetFactor: 2, polygonOffsetUnits: 8 }))
    this.veil.renderOrder = VEIL
    this.veil.frustumCulled = false
    this.veil.visible = false
    const lines = new THREE.BufferGeometry()
    for (const name of ['position', 'normal']) lines.setAttribute(name, new THREE.BufferAttribute(new Float32Array(part.count * 3), 3))
    lines.setIndex(new THREE.BufferAttribute(part.wires, 1))
    this.wires = new THREE.LineSegments(lines, wireMaterial(part.kind, stage))
    this.wires.visible = this.wires.frustumCulled = false
  }

  /** The subdivided surface, made when it is first shown. */
  private get fine(): Surface {
    if (this.subdivided) return this.subdivided
    this.subdivided = new Surface(this.part.smooth, bareColour(this.part.kind))
    if (this.shading) this.subdivided.shade(this.shading.smooth)
    this.narrowFine()
    return this.subdivided
  }

  /** Where the vertices of the true mesh are drawn; on the subdivided surface they come first. */
  get points(): Float32Array {
    return (this.smooth ? this.fine : this.coarse).points.subarray(0, this.part.count * 3)
  }

  get normals(): Float32Array {
    return (this.smooth ? this.fine : this.coarse).normals.subarray(0, this.part.count * 3)
  }

  /** Give the true mesh or its subdivision new points. */
  pose(frame: FramePart, smooth: boolean) {
    if (smooth) return this.fine.pose(frame)
    this.coarse.pose(frame)
    for (const [name, values] of [
      ['position', frame.points],
      ['normal', frame.normals],
    ] as const) {
      const target = this.wires.geometry.getAttribute(name)
      ;(target.array as Float32Array).set(values)
      target.needsUpdate = true
    }
  }

  /** The points that one of the two meshes shows. */
  keepShown(smooth: boolean): FramePart {
    const { digest, points, normals } = smooth ? this.fine : this.coarse
    return { digest, points, normals }
  }

  /** Shows the way between two frames, at a share of it; what is shown is no pose of its own. */
  between(from: FramePart, to: FramePart, share: number, smooth: boolean) {
    const mix = (a: Float32Array, b: Float32Array) => a.map((x, k) => x + (b[k]! - x) * share)
    this.pose({ digest: to.digest, points: mix(from.points, to.points), normals: mix(from.normals, to.normals) }, smooth)
  }

  /** The frame that the true mesh shows, to be put back after another pose was drawn on it. */
  keep(): FramePart | null {
    const { digest, points, normals } = this.coarse
    return points.length ? { digest, points, normals } : null
  }

  restore(frame: FramePart | null) {
    if (frame) this.pose(frame, false)
    else this.coarse.digest = null
  }

  /** The weights that the true mesh is coloured by, to be put back after others were drawn on it. */
  keepWeights() {
    const weights = (this.coarse.geometry.getAttribute('weight').array as Float32Array).slice()
    const { held } = this
    return () => {
      const target = this.coarse.geometry.getAttribute('weight')
      ;(target.array as Float32Array).set(weights)
      target.needsUpdate = true
      this.hold(held)
    }
  }

  /** Which of the two is drawn. */
  use(smooth: boolean) {
    this.smooth = smooth
    this.mesh.geometry = this.veil.geometry = (smooth ? this.fine : this.coarse).geometry
  }

  /** What light needs to know of the part. */
  shade(shading: PartShading) {
    this.shading = shading
    this.coarse.shade(shading.own)
    this.subdivided?.shade(shading.smooth)
    if (!shading.eye) return
    this.eye = eyeUniforms(shading.eye, shading.lids !== null)
    const before = this.mesh.material as THREE.Material
    this.mesh.material = partMaterial(this.part.kind, this.uniforms, this.quality, this.eye)
    before.dispose()
    // an eye would shade itself: its lids do that
    this.mesh.castShadow = false
  }

  /** Turns strands and eyes as their part is turned in the pose that is drawn; `skin` is what has the lids. */
  turn(skin: PartView | null) {
    const { anchors, eye, lids } = this.shading ?? {}
    if (!anchors || !this.points.length) return
    const rest = frameOf(this.smooth ? anchors.smooth : anchors.own, [0, 1, 2])
    const now = frameOf(this.points, anchors.vertices)
    const turn = turnBetween(rest, now)
    this.uniforms.uTurn.value.copy(turn)
    if (!eye || !this.eye) return
    const own = new THREE.Matrix3().setFromMatrix4(new THREE.Matrix4().lookAt(new THREE.Vector3().fromArray(eye.gaze), new THREE.Vector3(), new THREE.Vector3(0, 1, 0)))
    this.uniforms.uTurn.value.premultiply(own.transpose())
    const arm = new THREE.Vector3().fromArray(eye.centre).sub(rest.origin).applyMatrix3(turn.clone().transpose())
    this.eye.uCentre.value.copy(now.origin).add(arm)
    const points = skin?.points
    if (lids && points) lids.forEach((vertex, k) => this.eye!.uLids.value[k]!.fromArray(points, vertex * 3))
  }

  /** With wires on it an iris lies as it is painted: its rings must lie on the wires. */
  showWires(on: boolean) {
    this.wires.visible = on
    if (this.eye) this.eye.uEye.value.w = on ? 0 : IRIS_DEPTH
  }

  meetRay() {
    ;(this.smooth ? this.fine : this.coarse).meetRay()
  }

  digest(smooth: boolean) {
    return (smooth ? this.subdivided : this.coarse)?.digest ?? null
  }

  weigh(own: Float32Array, total: Float32Array) {
    const surface = own.length === this.part.smooth.count ? this.fine : this.coarse
    surface.weigh(own, total)
    // weights are drawn on the skin, and on other parts only where the bone carries them: dead eyes would say nothing
    const telling = this.part.kind === 'skin' || own.some((w) => w > 0) || total.some((t) => Math.abs(t - 1) > 0.002)
    this.hold(telling ? 'weights' : 'nothing')
  }

  /** The true mesh where a stroke on another part takes it. What was drawn is no longer what a frame brought. */
  takeAlong({ points, normals }: Moved) {
    this.pose({ digest: 0, points, normals }, false)
    this.coarse.digest = null
  }

  /** What a brush changed of the true mesh. */
  paint(painted: Painted) {
    this.coarse.paint(painted)
    const [place, facing] = [this.wires.geometry.getAttribute('position'), this.wires.geometry.getAttribute('normal')]
    painted.vertices.forEach((v, k) => {
      for (const [to, from] of [
        [this.coarse.points, painted.points],
        [this.coarse.normals, painted.normals],
        [place.array, painted.points],
        [facing.array, painted.normals],
      ] as const)
        for (let c = 0; c < 3; c++) to[v * 3 + c] = from[k * 3 + c]!
    })
    place.needsUpdate = facing.needsUpdate = true
    this.hold('weights')
  }

  showRing(ring: Ring | null) {
    this.uniforms.uRing.value.set(...(ring?.point ?? [0, 0, 0]), ring?.radius ?? 0)
  }

  /** Colours the surface by a difference on each vertex, `most` in full. */
  tint(values: Float32Array, most: number) {
    const surface = values.length === this.part.smooth.count ? this.fine : this.coarse
    surface.weigh(values.map((v) => v / most), values)
    this.hold('difference')
  }

  /** What the surface is coloured by, as soon as that has come. */
  colourBy(wanted: Colours) {
    this.wanted = wanted
    this.uniforms.uColours.value = wanted === this.held ? COLOURS.indexOf(wanted) : 0
  }

  private hold(held: Colours) {
    this.held = held
    this.colourBy(this.wanted)
  }

  /** The true vertex nearest to a hit on triangle `face`. */
  vertexAt(face: number, point: THREE.Vector3): number {
    if (this.smooth) return this.part.smooth.owners[this.fine.numberOf(face) >> 1] ?? 0
    const corners = [0, 1, 2].map((k) => this.part.triangles[this.coarse.numberOf(face) * 3 + k]!)
    const far = (v: number) => new THREE.Vector3().fromArray(this.points, v * 3).distanceToSquared(point)
    return corners.reduce((best, v) => (far(v) < far(best) ? v : best))
  }

  /** Draws only what lies between chosen vertices; null for everything. */
  isolate(vertices: ReadonlySet<number> | null) {
    this.only = vertices
    this.coarse.only(vertices && ((a, b, c) => vertices.has(a) && vertices.has(b) && vertices.has(c)))
    this.narrowFine()
  }

  /** Each polygon of the subdivided surface, of two triangles, touches one vertex of the true mesh. */
  private narrowFine() {
    const { only } = this
    const { owners } = this.part.smooth
    this.subdivided?.only(only && ((_a, _b, _c, triangle) => only.has(owners[triangle >> 1]!)))
  }

  /** Cut open by the camera: then the inside is drawn too. Like glass it is a matter of state: no shader is compiled anew for it. */
  cut(open: boolean) {
    const material = this.mesh.material as THREE.Material
    material.side = open || this.part.kind === 'lash' ? THREE.DoubleSide : THREE.FrontSide
  }

  glass(on: boolean) {
    const material = this.mesh.material as THREE.Material
    this.veil.visible = on && this.mesh.visible
    material.transparent = on
    material.opacity = on ? 0.28 : 1
    material.depthWrite = !on
    this.mesh.renderOrder = on ? VEIL + 1 : 0
    this.mesh.castShadow = !on && !this.eye
  }

  dispose() {
    for (const surface of [this.coarse, this.subdivided]) surface?.geometry.dispose()
    this.wires.geometry.dispose()
    this.eye?.uRings.value.dispose()
    for (const mesh of [this.mesh, this.veil]) (mesh.material as THREE.Material).dispose()
    ;(this.wires.material as THREE.Material).dispose()
  }
}
