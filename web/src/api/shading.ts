import { fetchDecoded, floats } from './msgpack'

/** What light needs to know of each vertex of a surface, baked at rest. */
export interface SurfaceShading {
  /** Open sky over each vertex, 0 to 255. */
  sky: Uint8Array
  /** How thin the skin is there, 0 to 255. */
  thin: Uint8Array | null
  /** Where the vertices rest, cm. */
  rest: Float32Array | null
  /** The way strands run, three numbers a vertex, -127 to 127. */
  strands: Int8Array | null
}

/** An eye painted in rings: angles in radians from where it looks, colours (linear) from there to straight behind. */
export interface PaintedEye {
  centre: [number, number, number]
  radius: number
  gaze: [number, number, number]
  pupil: number
  iris: number
  colours: Float32Array
}

/** Three vertices far apart, and where they rest on the true mesh and on its subdivision: they tell how a stiff part is turned. */
export interface Anchors {
  vertices: [number, number, number]
  own: number[]
  smooth: number[]
}

export interface PartShading {
  own: SurfaceShading
  smooth: SurfaceShading
  anchors: Anchors | null
  eye: PaintedEye | null
  /** Vertices of the skin along the upper and then the lower margin of the lids, each from corner to corner. */
  lids: number[] | null
}

interface RawSurface {
  sky: Uint8Array
  thin?: Uint8Array
  rest?: Uint8Array
  strands?: Uint8Array
}

type RawPart = { own: RawSurface; smooth: RawSurface; anchors?: Anchors; lids?: number[]; eye?: Omit<PaintedEye, 'colours'> & { colours: Uint8Array } }

const surface = (raw: RawSurface): SurfaceShading => ({
  sky: raw.sky,
  thin: raw.thin ?? null,
  rest: raw.rest ? floats(raw.rest) : null,
  strands: raw.strands ? new Int8Array(raw.strands.slice().buffer) : null,
})

/** By part; takes the server a second when it is asked first. */
export async function fetchShading(id: number, revision: number): Promise<Record<string, PartShading>> {
  const raw = await fetchDecoded<{ parts: Record<string, RawPart> }>(`/api/characters/${id}/shading?revision=${revision}`)
  const parts = Object.entries(raw.parts).map(([name, part]): [string, PartShading] => [
    name,
    {
      own: surface(part.own),
      smooth: surface(part.smooth),
      anchors: part.anchors ?? null,
      eye: part.eye ? { ...part.eye, colours: floats(part.eye.colours) } : null,
      lids: part.lids ?? null,
    },
  ])
  return Object.fromEntries(parts)
}
