import { fetchDecoded, floats, whole } from './msgpack'
import type { components } from './schema'

type WeightPainting = components['schemas']['Painting']
export type MapPainting = components['schemas']['MapPainting']
export type ReliefPainting = components['schemas']['ReliefPainting']
export type Sculpting = components['schemas']['Sculpting']
export type SculptDab = components['schemas']['SculptDab']
/** What a stroke works on: a bone's weights, a map of lids, the region of a relief, or a shape. */
export type Painting = WeightPainting | MapPainting | ReliefPainting | Sculpting
export type PaintDab = components['schemas']['Dab']
export type Dab = PaintDab | SculptDab

export const isSculpting = (painting: Painting): painting is Sculpting => 'shape' in painting

/** Points and normals of a whole part. */
export interface Moved {
  points: Float32Array
  normals: Float32Array
}

/** What dabs changed: vertices with what is painted, their total, posed points and normals. */
export interface Painted {
  vertices: Uint32Array
  own: Float32Array
  total: Float32Array
  points: Float32Array
  normals: Float32Array
  /** Other parts that moved with the painted one. */
  others: Record<string, Moved>
  /** How far from where it was wanted something stayed at most, mm: what cannot be reached in this pose. */
  missed: number
}

export interface PaintRequest {
  revision: number
  token: string
  painting: Painting
  first: number
  dabs: Dab[]
}

type Answer = Record<'vertices' | 'own' | 'total' | 'points' | 'normals', Uint8Array> & {
  others: Record<string, Record<keyof Moved, Uint8Array>>
  missed?: number
}

/** Some more dabs of a stroke. Nothing is stored before the edit that holds all of them. */
export async function sendDabs(id: number, request: PaintRequest): Promise<Painted> {
  const { painting, ...rest } = request
  const [where, body] = isSculpting(painting) ? ['sculpt', { ...rest, sculpting: painting }] : ['paint', request]
  const raw = await fetchDecoded<Answer>(`/api/characters/${id}/${where}`, body)
  return {
    vertices: whole(raw.vertices),
    own: floats(raw.own),
    total: floats(raw.total),
    points: floats(raw.points),
    normals: floats(raw.normals),
    others: Object.fromEntries(Object.entries(raw.others).map(([name, part]) => [name, { points: floats(part.points), normals: floats(part.normals) }])),
    missed: raw.missed ?? 0,
  }
}
