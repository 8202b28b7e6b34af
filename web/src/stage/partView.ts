import * as THREE from 'three'
import type { Drawable, FramePart, MeshPart } from '../api/frames'
import type { Painted } from '../api/paint'
import type { Ring } from './engine'
import { byColour } from './byColour'
import { bareColour, partMaterial, type PartMaterial, type PartUniforms } from './materials'
import type { Quality } from './quality'

/** What a surface may be coloured by, in the order of their numbers in the shader. */
const COLOURS = ['nothing', 'weights', 'difference'] as const
export type Colours = (typeof COLOURS)[number]

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
    this.geometry.setIndex(new THREE.BufferAttribute(this.index, 1))
    const source = corners?.colours ?? drawn.colours
    const colour = this.attribute('color')
    for (let i = 0; i < count * 3; i++) colour[i] = toLinear(source?.[i] ?? bare[i % 3]!)
  }

  pose(part: FramePart) {
    this.digest = part.digest
    this.points = part.points
    this.normals = part.normals
    this.copy('position', part.points)
    this.copy('normal', part.normals)
    this.geometry.computeBoundingSphere()
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
    this.geometry.computeBoundingSphere()
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
  private readonly fine: Surface
  private readonly uniforms: PartUniforms = { uColours: { value: 0 }, uRing: { value: new THREE.Vector4() } }
  /** What the attribute of the surface holds, and what the surface is to be coloured by. */
  private held: Colours = 'nothing'
  private wanted: Colours = 'nothing'

  constructor(
    readonly part: MeshPart,
    quality: Quality,
  ) {
    this.coarse = new Surface(part, bareColour(part.kind))
    this.fine = new Surface(part.smooth, bareColour(part.kind))
    this.mesh = new THREE.Mesh(this.coarse.geometry, partMaterial(part.kind, this.uniforms, quality))
    this.mesh.castShadow = this.mesh.receiveShadow = true
    this.mesh.userData = { view: this }
    const lines = new THREE.BufferGeometry()
    lines.setAttribute('position', new THREE.BufferAttribute(new Float32Array(part.count * 3), 3))
    lines.setIndex(new THREE.BufferAttribute(part.wires, 1))
    const ink = part.kind === 'skin' ? 0x22302e : 0x6b3a2a
    this.wires = new THREE.LineSegments(lines, new THREE.LineBasicMaterial({ color: ink, transparent: true, opacity: 0.7 }))
    this.wires.visible = false
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
    const target = this.wires.geometry.getAttribute('position')
    ;(target.array as Float32Array).set(frame.points)
    target.needsUpdate = true
    this.wires.geometry.computeBoundingSphere()
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

  /** Which of the two is drawn. */
  use(smooth: boolean) {
    this.smooth = smooth
    this.mesh.geometry = (smooth ? this.fine : this.coarse).geometry
  }

  digest(smooth: boolean) {
    return (smooth ? this.fine : this.coarse).digest
  }

  weigh(own: Float32Array, total: Float32Array) {
    const surface = own.length === this.fine.drawn.count ? this.fine : this.coarse
    surface.weigh(own, total)
    // weights are drawn on the skin, and on other parts only where the bone carries them: dead eyes would say nothing
    const telling = this.part.kind === 'skin' || own.some((w) => w > 0) || total.some((t) => Math.abs(t - 1) > 0.002)
    this.hold(telling ? 'weights' : 'nothing')
  }

  /** What a brush changed of the true mesh. */
  paint(painted: Painted) {
    this.coarse.paint(painted)
    const target = this.wires.geometry.getAttribute('position')
    painted.vertices.forEach((v, k) => {
      for (const [to, from] of [
        [this.coarse.points, painted.points],
        [this.coarse.normals, painted.normals],
        [target.array, painted.points],
      ] as const)
        for (let c = 0; c < 3; c++) to[v * 3 + c] = from[k * 3 + c]!
    })
    target.needsUpdate = true
    this.hold('weights')
  }

  showRing(ring: Ring | null) {
    this.uniforms.uRing.value.set(...(ring?.point ?? [0, 0, 0]), ring?.radius ?? 0)
  }

  /** Colours the surface by a difference on each vertex, `most` in full. */
  tint(values: Float32Array, most: number) {
    const surface = values.length === this.fine.drawn.count ? this.fine : this.coarse
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
  isolate(vertices: Set<number> | null) {
    this.coarse.only(vertices && ((a, b, c) => vertices.has(a) && vertices.has(b) && vertices.has(c)))
    // each polygon of the subdivided surface, of two triangles, touches one vertex of the true mesh
    const { owners } = this.part.smooth
    this.fine.only(vertices && ((_a, _b, _c, triangle) => vertices.has(owners[triangle >> 1]!)))
  }

  glass(on: boolean) {
    const material = this.mesh.material as PartMaterial
    if (material.transparent === on) return
    material.transparent = on
    material.opacity = on ? 0.28 : 1
    material.depthWrite = !on
    material.needsUpdate = true
  }

  dispose() {
    for (const surface of [this.coarse, this.fine]) surface.geometry.dispose()
    this.wires.geometry.dispose()
    ;(this.mesh.material as THREE.Material).dispose()
    ;(this.wires.material as THREE.Material).dispose()
  }
}
