export interface Hit {
  part: string
  vertex: number
}

/** A place on a part under the pointer, with the vertex of the true mesh that is nearest to it. */
export interface Spot extends Hit {
  point: [number, number, number]
}

export interface Ring {
  point: [number, number, number]
  radius: number
}
