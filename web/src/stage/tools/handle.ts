import * as THREE from 'three'
import type { Bone } from '../../api/client'
import type { StageEngine } from '../engine'

export type Axis = 'x' | 'y' | 'z'
export const AXES: Axis[] = ['x', 'y', 'z']

/** One movement of a bone's own control. */
export interface Channel {
  name: string
  kind: 'turn' | 'move'
  axis: Axis
  low: number
  high: number
}

/** The movements that the limits of a bone allow. */
export function channelsOf(bone: Bone): Channel[] {
  const of = (kind: 'turn' | 'move') =>
    AXES.map((axis, k) => {
      const [low, high] = (bone[kind]?.[k] ?? [0, 0]) as [number, number]
      return { name: `${bone.name}.${kind}_${axis}`, kind, axis, low, high }
    })
  return [...of('turn'), ...of('move')].filter((c) => c.low !== 0 || c.high !== 0)
}

const RING = 46 // px
const ARROW = 68 // px
const STEPS = 64
const EDGE_ON = 0.18 // of the axis towards the camera, from where a ring is dragged along its tangent

/** The handle of a bone in the pose that is drawn: where it is, and the directions its channels act in. */
export class Handle {
  readonly centre: THREE.Vector3
  private readonly pixel: number

  constructor(
    private readonly engine: StageEngine,
    private readonly row: number,
  ) {
    this.centre = new THREE.Vector3().fromArray(engine.boneEnds, row * 6)
    this.pixel = engine.pixelAt(this.centre.toArray())
  }

  axis({ kind, axis }: Channel): THREE.Vector3 {
    return new THREE.Vector3().fromArray(this.engine.handles ?? [], this.row * 18 + (kind === 'move' ? 9 : 0) + AXES.indexOf(axis) * 3)
  }

  /** The halves of a ring that face the camera and that do not, as paths on the canvas; and where its letter stands. */
  ring(channel: Channel): { front: string; back: string; tip: { x: number; y: number } | null } {
    const axis = this.axis(channel)
    const towards = this.engine.towardsCamera(this.centre.toArray())
    const [u, v] = across(axis)
    const halves = { front: '', back: '' }
    let before = ''
    let tip: { x: number; y: number } | null = null
    let nearest = -Infinity
    for (let k = 0; k <= STEPS; k++) {
      const angle = (k / STEPS) * 2 * Math.PI
      const arm = u.clone().multiplyScalar(Math.cos(angle)).addScaledVector(v, Math.sin(angle))
      const spot = this.engine.project(this.centre.clone().addScaledVector(arm, RING * this.pixel).toArray())
      if (!spot) continue
      const half = arm.dot(towards) > -0.02 ? 'front' : 'back'
      halves[half] += `${half === before ? 'L' : 'M'}${spot.x.toFixed(1)} ${spot.y.toFixed(1)}`
      before = half
      if (arm.dot(towards) > nearest) [nearest, tip] = [arm.dot(towards), spot]
    }
    return { ...halves, tip }
  }

  /** Both ends of an arrow on the canvas. */
  arrow(channel: Channel): { from: { x: number; y: number }; to: { x: number; y: number } } | null {
    const from = this.engine.project(this.centre.toArray())
    const to = this.engine.project(this.centre.clone().addScaledVector(this.axis(channel), ARROW * this.pixel).toArray())
    return from && to ? { from, to } : null
  }

  /** How far a pointer has gone along a channel when it was dragged from one place to another: degrees, or cm. */
  travelled(channel: Channel, from: { x: number; y: number }, to: { x: number; y: number }): number {
    const axis = this.axis(channel)
    if (channel.kind === 'move') return this.along(axis, to) - this.along(axis, from)
    const towards = this.engine.towardsCamera(this.centre.toArray())
    if (Math.abs(axis.dot(towards)) > EDGE_ON) {
      const turned = this.angle(axis, to) - this.angle(axis, from)
      return THREE.MathUtils.radToDeg(Math.atan2(Math.sin(turned), Math.cos(turned)))
    }
    // seen from its edge a ring is a line: go along it
    const tangent = axis.clone().cross(towards).normalize()
    return THREE.MathUtils.radToDeg((this.along(tangent, to) - this.along(tangent, from)) / (RING * this.pixel))
  }

  private angle(axis: THREE.Vector3, at: { x: number; y: number }): number {
    const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(axis, this.centre)
    const hit = this.engine.ray(at.x, at.y).ray.intersectPlane(plane, new THREE.Vector3())
    if (!hit) return 0
    const [u, v] = across(axis)
    const arm = hit.sub(this.centre)
    return Math.atan2(arm.dot(v), arm.dot(u))
  }

  /** Where on the line through the centre a ray passes closest. */
  private along(axis: THREE.Vector3, at: { x: number; y: number }): number {
    const { origin, direction } = this.engine.ray(at.x, at.y).ray
    const between = this.centre.clone().sub(origin)
    const tilt = axis.dot(direction)
    const flat = Math.max(1 - tilt * tilt, 1e-4)
    return (tilt * between.dot(direction) - between.dot(axis)) / flat
  }
}

/** Two directions at right angles to an axis and to each other, so that turning about the axis goes from the first to the second. */
function across(axis: THREE.Vector3): [THREE.Vector3, THREE.Vector3] {
  const aside = Math.abs(axis.y) < 0.9 ? new THREE.Vector3(0, 1, 0) : new THREE.Vector3(1, 0, 0)
  const u = aside.cross(axis).normalize()
  return [u, axis.clone().cross(u)]
}
