import { decode } from '@msgpack/msgpack'
import { refusal } from './client'
import type { components } from './schema'

export type Painting = components['schemas']['Painting']
export type Dab = components['schemas']['Dab']

/** What dabs changed: vertices with the painted bone's weight, their total, posed points and normals. */
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
  const response = await fetch(`/api/characters/${id}/paint`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(request),
  })
  if (!response.ok) throw await refusal(response)
  const raw = decode(await response.arrayBuffer()) as Record<keyof Painted, Uint8Array>
  const floats = (bytes: Uint8Array) => new Float32Array(bytes.slice().buffer)
  return {
    vertices: new Uint32Array(raw.vertices.slice().buffer),
    own: floats(raw.own),
    total: floats(raw.total),
    points: floats(raw.points),
    normals: floats(raw.normals),
  }
}
