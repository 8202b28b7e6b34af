import * as THREE from 'three'
import { expect, test } from 'vitest'
import { halton } from '../src/stage/looks/developing'
import { frameOf, turnBetween } from '../src/stage/looks/turn'

const points = [0, 0, 0, 2, 0.5, 0, 1, 3, -1, 4, 4, 4]

test('a turned and moved part is turned back by what its anchors tell', () => {
  const turn = new THREE.Matrix4().makeRotationFromEuler(new THREE.Euler(0.4, -1.1, 0.3)).setPosition(5, -2, 7)
  const moved = [0, 1, 2, 3].flatMap((v) => new THREE.Vector3().fromArray(points, v * 3).applyMatrix4(turn).toArray())
  const back = turnBetween(frameOf(points, [0, 1, 2]), frameOf(moved, [0, 1, 2]))
  const way = new THREE.Vector3(0.2, -0.7, 0.4)
  const posed = way.clone().transformDirection(turn).multiplyScalar(way.length())
  expect(posed.applyMatrix3(back).distanceTo(way)).toBeLessThan(1e-9)
})

test('a part that has not stirred is not turned', () => {
  const still = turnBetween(frameOf(points, [3, 1, 2]), frameOf(points, [3, 1, 2]))
  still.elements.forEach((x, k) => expect(x).toBeCloseTo(k % 4 === 0 ? 1 : 0, 12))
})

test('exposures are shifted evenly within a pixel', () => {
  const twelve = Array.from({ length: 12 }, (_, k) => halton(k + 1, 2))
  expect(twelve.slice(0, 3)).toEqual([0.5, 0.25, 0.75])
  expect(new Set(twelve.map((x) => Math.floor(x * 4))).size).toBe(4)
  expect(Array.from({ length: 9 }, (_, k) => halton(k + 1, 3)).every((x) => x > 0 && x < 1)).toBe(true)
})
