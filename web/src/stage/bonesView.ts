import * as THREE from 'three'
import { mergeGeometries } from 'three/examples/jsm/utils/BufferGeometryUtils.js'
import type { Bone } from '../api/client'
import type { BoneFilter } from '../state/work/landmarks'
import { tokens } from '../theme/tokens'

const COLOURS = { deform: new THREE.Color(tokens.slate), helper: new THREE.Color(tokens.quiet), picked: new THREE.Color(tokens.saffron) }

const AXIS = 0.8 // cm that the axes of a bone are drawn long
const AXIS_COLOURS = [tokens.madder, tokens.spruce, tokens.slate].map((c) => new THREE.Color(c))

/** Is a bone to be drawn? */
export const passes = (bone: Bone, filter: BoneFilter) =>
  (filter.regions === null || filter.regions.has(bone.region ?? 'other')) && filter[bone.role ?? 'deform']

/** A thread needle of length 1 along y: its eye at the base, where it turns, its point at the tip. */
function needle(): THREE.BufferGeometry {
  const eye = new THREE.TorusGeometry(0.72, 0.28, 6, 14).scale(1, 0.13, 1).translate(0, 0.13, 0)
  const shaft = new THREE.ConeGeometry(0.72, 0.78, 6).translate(0, 0.61, 0)
  return mergeGeometries([eye, shaft])
}

/** Bones as thread needles. Helpers are hollow and paler. */
export class BonesView {
  readonly group = new THREE.Group()
  private needles: { [role in 'deform' | 'helper']?: THREE.InstancedMesh } = {}
  private shown: { bones: Bone[]; rows: number[]; picked: string | null } = { bones: [], rows: [], picked: null }
  private ends: Float32Array = new Float32Array()
  private handles: Float32Array | null = null
  private readonly axes = new THREE.LineSegments(
    new THREE.BufferGeometry(),
    new THREE.LineBasicMaterial({ vertexColors: true, depthTest: false, transparent: true }),
  )
  private withAxes = false

  constructor() {
    this.axes.renderOrder = 12
    this.group.add(this.axes)
    for (const role of ['deform', 'helper'] as const) {
      const material = new THREE.MeshStandardMaterial({ roughness: 0.4, transparent: true, opacity: role === 'helper' ? 0.5 : 0.82, wireframe: role === 'helper' })
      this.needles[role] = new THREE.InstancedMesh(needle(), material, 0)
    }
  }

  /** Which bones of the document are drawn, over or behind the surface, and which one is picked. */
  show(bones: Bone[], filter: BoneFilter, picked: string | null) {
    const rows = bones.flatMap((b, k) => (passes(b, filter) || b.name === picked ? [k] : []))
    this.shown = { bones, rows, picked }
    for (const needles of Object.values(this.needles)) {
      const material = needles.material as THREE.MeshStandardMaterial
      material.depthTest = filter.behind
      material.depthWrite = filter.behind
      needles.renderOrder = filter.behind ? 0 : 10
    }
    this.withAxes = filter.axes
    this.pose(this.ends, this.handles)
  }

  /** `ends` are base and tip of each bone, `handles` the directions of its own control. */
  pose(ends: Float32Array, handles: Float32Array | null) {
    this.ends = ends
    this.handles = handles
    this.drawAxes()
    for (const role of ['deform', 'helper'] as const) this.draw(role)
  }

  /** The drawn bone that a ray meets first. */
  hit(ray: THREE.Raycaster): string | null {
    const hits = Object.values(this.needles).flatMap((n) => ray.intersectObject(n, false))
    const first = hits.sort((a, b) => a.distance - b.distance)[0]
    const rows = (first?.object.userData.rows ?? []) as number[]
    return this.shown.bones[rows[first?.instanceId ?? -1] ?? -1]?.name ?? null
  }

  private drawAxes() {
    const lines: number[] = []
    const colours: number[] = []
    for (const k of this.withAxes && this.handles ? this.shown.rows : [])
      for (let axis = 0; axis < 3; axis++)
        for (const far of [0, AXIS]) {
          lines.push(...[0, 1, 2].map((c) => (this.ends[k * 6 + c] ?? 0) + far * (this.handles?.[k * 18 + axis * 3 + c] ?? 0)))
          colours.push(...AXIS_COLOURS[axis]!.toArray())
        }
    this.axes.geometry.setAttribute('position', new THREE.Float32BufferAttribute(lines, 3))
    this.axes.geometry.setAttribute('color', new THREE.Float32BufferAttribute(colours, 3))
    this.axes.geometry.computeBoundingSphere()
  }

  private draw(role: 'deform' | 'helper') {
    const { bones, rows, picked } = this.shown
    const own = rows.filter((k) => (bones[k]?.role ?? 'deform') === role && k * 6 + 5 < this.ends.length)
    const old = this.needles[role]!
    const needles = new THREE.InstancedMesh(old.geometry, old.material, own.length)
    needles.renderOrder = old.renderOrder
    needles.userData.rows = own
    const [base, tip, up] = [new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3(0, 1, 0)]
    own.forEach((k, at) => {
      base.fromArray(this.ends, k * 6)
      tip.fromArray(this.ends, k * 6 + 3)
      const along = tip.clone().sub(base)
      const long = Math.max(along.length(), 1e-3)
      const thick = Math.min(0.22 + long * 0.02, 0.12 * long + 0.06)
      const turn = new THREE.Quaternion().setFromUnitVectors(up, along.normalize())
      needles.setMatrixAt(at, new THREE.Matrix4().compose(base, turn, new THREE.Vector3(thick, long, thick)))
      needles.setColorAt(at, bones[k]?.name === picked ? COLOURS.picked : COLOURS[role])
    })
    needles.computeBoundingSphere()
    this.group.remove(old)
    old.dispose()
    this.group.add(needles)
    this.needles[role] = needles
  }
}
