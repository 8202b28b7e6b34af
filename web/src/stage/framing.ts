import * as THREE from 'three'
import type { Patch } from '../state/work/patch'
import type { PartView } from './partView'

const MARGIN = 1.4 // cm of surroundings that are shown beside the marked vertices
const SAMPLES = 8 // vertices of a part that are tried
const WHOLE = 0.9 // share of a part's vertices from which the part as a whole is meant
const AGREE = 0.12 // vector area over area from which faces are taken to look one way
const TOUCHING = 0.3 // cm before a vertex within which nothing counts as hiding it
const STEEPEST = 0.7 // of the way up or down that the camera stands

export interface Framing {
  target: THREE.Vector3
  /** Places for the camera, the best first. */
  positions: THREE.Vector3[]
  /** Radius in cm of the ball round what is looked at. */
  radius: number
  /** Some of the vertices, to see whether they can be seen. */
  samples: THREE.Vector3[]
}

/**
 * Where to look at some vertices from: straight from outside where their faces look one way, then between that and the way `usual`,
 * then that, with `margin` cm of surroundings. Null where the vertices are on no part that is drawn.
 */
export function framed(places: Patch[], parts: Map<string, PartView>, usual: THREE.Vector3, fov: number, margin = MARGIN): Framing | null {
  const box = new THREE.Box3()
  const outward = new THREE.Vector3()
  const one = new THREE.Vector3()
  const samples: THREE.Vector3[] = []
  let area = 0
  for (const { part, vertices } of places) {
    const view = parts.get(part)
    if (!view?.points.length) continue
    const chosen = new Set(vertices.filter((v) => v * 3 + 2 < view.points.length))
    for (const v of chosen) box.expandByPoint(one.fromArray(view.points, v * 3))
    const every = Math.ceil(chosen.size / SAMPLES)
    samples.push(...[...chosen].filter((_, k) => k % every === 0).map((v) => new THREE.Vector3().fromArray(view.points, v * 3)))
    if (chosen.size < WHOLE * view.part.count) area += addVectorArea(outward, view, chosen)
  }
  if (box.isEmpty()) return null
  const ball = box.getBoundingSphere(new THREE.Sphere())
  const agreed = area > 0 && outward.length() > AGREE * area
  const last = usual.clone().normalize()
  const ways = agreed ? [outward.normalize(), outward.clone().add(last), last] : [last]
  const radius = ball.radius + margin
  const distance = (radius * 1.15) / Math.sin(THREE.MathUtils.degToRad(fov / 2))
  const positions = ways.map((way) => {
    const level = way.clone().normalize()
    level.y = THREE.MathUtils.clamp(level.y, -STEEPEST, STEEPEST)
    return ball.center.clone().addScaledVector(level.normalize(), distance)
  })
  return { target: ball.center, positions, radius, samples }
}

/**
 * Adds the vector area of the faces round the chosen vertices to `sum` and returns their plain area. It depends on the border of a
 * patch alone: folds and flips inside do not turn it, as they would turn a mean of normals.
 */
function addVectorArea(sum: THREE.Vector3, view: PartView, chosen: Set<number>): number {
  const { triangles } = view.part
  const [a, b, c] = [new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3()]
  let area = 0
  for (let t = 0; t < triangles.length; t += 3) {
    const [i, j, k] = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!]
    if (!chosen.has(i) && !chosen.has(j) && !chosen.has(k)) continue
    a.fromArray(view.points, i * 3)
    b.fromArray(view.points, j * 3).sub(a)
    c.fromArray(view.points, k * 3).sub(a)
    b.cross(c)
    sum.add(b)
    area += b.length()
  }
  return area
}

/** Does something opaque stand between a camera and most of what it is to look at? */
export function hidden(position: THREE.Vector3, samples: THREE.Vector3[], opaque: THREE.Mesh[]): boolean {
  const covered = samples.filter((point) => {
    const far = position.distanceTo(point)
    const ray = new THREE.Raycaster(position, point.clone().sub(position).normalize(), 0, far - TOUCHING)
    return ray.intersectObjects(opaque, false).length > 0
  })
  return covered.length > samples.length / 2
}
