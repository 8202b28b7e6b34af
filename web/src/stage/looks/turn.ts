import * as THREE from 'three'

/** Three points as an origin and the axes that they span. */
export interface Frame3 {
  origin: THREE.Vector3
  axes: THREE.Matrix3
}

/** The frame of three vertices, in an array of points. */
export function frameOf(points: ArrayLike<number>, [first, second, third]: [number, number, number]): Frame3 {
  const at = (v: number) => new THREE.Vector3().fromArray(points, v * 3)
  const origin = at(first)
  const x = at(second).sub(origin).normalize()
  const y = at(third).sub(origin)
  y.addScaledVector(x, -y.dot(x)).normalize()
  const z = x.clone().cross(y)
  return { origin, axes: new THREE.Matrix3().set(x.x, y.x, z.x, x.y, y.y, z.y, x.z, y.z, z.z) }
}

/** What turns directions at `now` back to where they were at `rest`. */
export const turnBetween = (rest: Frame3, now: Frame3) => rest.axes.clone().multiply(now.axes.clone().transpose())
