import { fetchDecoded, floats, whole } from './msgpack'
import type { components } from './schema'

type WeightPainting = components['schemas']['Painting']
export type MapPainting = components['schemas']['MapPainting']
export type ReliefPainting = components['schemas']['ReliefPainting']
/** What a stroke paints on: a bone's weights, a map of lids, or the region of a relief. */
export type Painting = WeightPainting | MapPainting | ReliefPainting
export type Dab = components['schemas']['Dab']

/** What dabs changed: vertices with what is painted, their total, posed points and normals. */
export interface Painted {
  vertices: Uint32Array
  own: Float32Array
  total: Float32Array
  points: Float32Array
  normals: Float32Array
}

export interface PaintRequest {
  revision: number
  token: string
  painting: Painting
  first: number
  dabs: Dab[]
}

/** Some more dabs of a stroke. Nothing is stored before the edit that holds all of them. */
export async function sendDabs(id: number, request: PaintRequest): Promise<Painted> {
  const raw = await fetchDecoded<Record<keyof Painted, Uint8Array>>(`/api/characters/${id}/paint`, request)
  return {
    vertices: whole(raw.vertices),
    own: floats(raw.own),
    total: floats(raw.total),
    points: floats(raw.points),
    normals: floats(raw.normals),
  }
}
