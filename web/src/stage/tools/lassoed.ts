import * as THREE from 'three'
import type { StageEngine } from '../engine'

const MOST_LOOKED_AT = 1500 // vertices that are each asked whether something hides them

interface Spot {
  x: number
  y: number
}

/** Vertices of the true mesh of a part inside a line drawn on the canvas; on request only those that can be seen. */
export function lassoed(engine: StageEngine, part: string, line: Spot[], front: boolean): number[] {
  const surface = engine.surface(part)
  if (!surface) return []
  const [point, normal] = [new THREE.Vector3(), new THREE.Vector3()]
  const found = Array.from({ length: surface.points.length / 3 }, (_, v) => v).filter((v) => {
    const place = point.fromArray(surface.points, v * 3).toArray()
    if (front && normal.fromArray(surface.normals, v * 3).dot(engine.towardsCamera(place)) < 0) return false
    const at = engine.project(place)
    return at !== null && inside(at, line)
  })
  // what faces the camera may still lie behind something, such as the lining of the mouth behind the lips
  if (!front || found.length > MOST_LOOKED_AT) return found
  return found.filter((v) => engine.sees(point.fromArray(surface.points, v * 3).toArray()))
}

/** Does a point lie inside a closed line? Counted by how often a ray to the right crosses it. */
function inside({ x, y }: Spot, line: Spot[]): boolean {
  let odd = false
  line.forEach((a, k) => {
    const b = line[(k + 1) % line.length]!
    if (a.y > y !== b.y > y && x < a.x + ((y - a.y) / (b.y - a.y)) * (b.x - a.x)) odd = !odd
  })
  return odd
}
