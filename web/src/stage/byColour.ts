/** Vertices drawn once for each colour of polygons that meets in them. */
export interface ByColour {
  /** The vertex of the mesh that each drawn one stands for. */
  owners: Uint32Array
  /** Triangles over the drawn vertices, in the order in which they came. */
  index: Uint32Array
  /** sRGB, three numbers a drawn vertex. */
  colours: Float32Array
}

const LEVELS = 255 // steps of each channel that are told apart

/**
 * Shares vertices between triangles of the same colour: a ball of few colours has a sixth of the vertices it has where every corner is
 * one of its own. `faceColours` are three numbers, 0 to 1, a triangle.
 */
export function byColour(triangles: Uint32Array, faceColours: Float32Array): ByColour {
  const index = new Uint32Array(triangles.length)
  const owners: number[] = []
  const firsts: number[] = [] // the triangle that gave each drawn vertex its colour
  const known = new Map<number, number>()
  for (let t = 0; t < triangles.length / 3; t++) {
    const [r, g, b] = [0, 1, 2].map((k) => Math.round(faceColours[t * 3 + k]! * LEVELS)) as [number, number, number]
    const colour = (r * (LEVELS + 1) + g) * (LEVELS + 1) + b
    for (let k = t * 3; k < t * 3 + 3; k++) {
      const key = triangles[k]! * (LEVELS + 1) ** 3 + colour
      let at = known.get(key)
      if (at === undefined) {
        at = owners.length
        known.set(key, at)
        owners.push(triangles[k]!)
        firsts.push(t)
      }
      index[k] = at
    }
  }
  const colours = new Float32Array(owners.length * 3)
  firsts.forEach((t, i) => colours.set(faceColours.subarray(t * 3, t * 3 + 3), i * 3))
  return { owners: Uint32Array.from(owners), index, colours }
}
