import * as THREE from 'three'
import type { Patch } from '../state/bench'
import type { PartView } from './partView'

const NEAREST = 11 // cm; closer, a single vertex would fill the stage with skin
const ROOM = 1.5 // how much more than the marked vertices the picture shows
const AGREE = 0.3 // length of the mean normal from which vertices are taken to face one way
const STEEPEST = 0.8 // of the way up or down that the camera stands

/**
 * Camera place and target for some vertices: straight from outside where they face one way, else along `arm`, the way it looks now.
 * Null where the vertices are on no part that is drawn.
 */
export function framed(places: Patch[], parts: Map<string, PartView>, arm: THREE.Vector3, fov: number) {
  const box = new THREE.Box3()
  const normal = new THREE.Vector3()
  const one = new THREE.Vector3()
  let count = 0
  for (const { part, vertices } of places) {
    const view = parts.get(part)
    if (!view?.points.length) continue
    for (const v of vertices) {
      if (v * 3 + 2 >= view.points.length) continue
      box.expandByPoint(one.fromArray(view.points, v * 3))
      normal.add(one.fromArray(view.normals, v * 3))
      count++
    }
  }
  if (!count) return null
  const ball = box.getBoundingSphere(new THREE.Sphere())
  const outward = normal.length() / count > AGREE ? normal.normalize() : arm.clone().normalize()
  outward.y = THREE.MathUtils.clamp(outward.y, -STEEPEST, STEEPEST)
  const distance = Math.max(NEAREST, (ball.radius * ROOM) / Math.sin(THREE.MathUtils.degToRad(fov / 2)))
  return { target: ball.center, position: ball.center.clone().addScaledVector(outward.normalize(), distance) }
}
