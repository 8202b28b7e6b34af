/** Vertices of one part. */
export interface Patch {
  part: string
  vertices: number[]
}
