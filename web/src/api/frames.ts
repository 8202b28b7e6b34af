import type { LidMap, PartOut } from './client'
import { fetchDecoded, floats, whole } from './msgpack'

/** One part as it is drawn: its triangles and colours, for the true mesh and for its subdivision. */
export interface Drawable {
  count: number
  triangles: Uint32Array
  colours: Float32Array | null
  faceColours: Float32Array | null
}

export interface MeshPart extends Drawable {
  name: string
  kind: PartOut['kind']
  wires: Uint32Array
  smooth: Drawable & { owners: Uint32Array }
}

export interface FramePart {
  /** Null where what is shown is no longer what a frame brought. */
  digest: number | null
  points: Float32Array
  normals: Float32Array
}

export interface Frame {
  revision: number
  parts: Record<string, FramePart>
  bones: Float32Array
  /** Per bone the directions its own control turns about and moves along: (2, 3, 3). Only where they were asked for. */
  handles?: Float32Array
  weights?: Record<string, { own: Float32Array; total: Float32Array }>
  /** Per part the difference on each vertex, in mm or per cent. Only where one was asked for. */
  tint?: Record<string, Float32Array>
  /** How far a vertex is off at most where what arrives is shown, mm. */
  off?: number
}

/** What colours tell: left against right in this pose, the same for weights, now against the pinned revision, how far edges are stretched, dual quaternions against linear skinning, an edit that is tried against what is now, what arrives of a package against what was made. */
export type Tint = 'mirror' | 'weights' | 'pin' | 'stretch' | 'dual' | 'draft' | 'arrived'

export interface FrameRequest {
  revision: number
  values: Record<string, number>
  overdrive: boolean
  smooth: boolean
  weights_of: string | null
  map_of?: LidMap | null
  region_of?: string | null
  shape_of?: { shape: string; below: number } | null
  handles?: boolean
  tint?: Tint | null
  pinned?: number | null
  /** An edit that is tried: the head is shown with it. */
  draft?: string | null
  /** A package: the head is shown as its receiver poses it. */
  arrived?: string | null
  known: Record<string, number>
}

const maybe = (bytes: Uint8Array | null) => (bytes ? floats(bytes) : null)

interface Raw {
  [key: string]: unknown
}

function drawable(raw: Raw): Drawable {
  return {
    count: raw.count as number,
    triangles: whole(raw.triangles as Uint8Array),
    colours: maybe(raw.colours as Uint8Array | null),
    faceColours: maybe(raw.faceColours as Uint8Array | null),
  }
}

export async function fetchMeshes(id: number, revision: number): Promise<MeshPart[]> {
  const raw = await fetchDecoded<{ parts: Raw[] }>(`/api/characters/${id}/meshes?revision=${revision}`)
  return raw.parts.map((part) => ({
    ...drawable(part),
    name: part.name as string,
    kind: part.kind as PartOut['kind'],
    wires: whole(part.wires as Uint8Array),
    smooth: { ...drawable(part.smooth as Raw), owners: whole((part.smooth as Raw).owners as Uint8Array) },
  }))
}

export async function fetchFrame(id: number, request: FrameRequest): Promise<Frame> {
  const raw = await fetchDecoded<{
    revision: number
    bones: Uint8Array
    handles?: Uint8Array
    parts: Record<string, { digest: number; points: Uint8Array; normals: Uint8Array }>
    weights?: Record<string, { own: Uint8Array; total: Uint8Array }>
    tint?: Record<string, Uint8Array>
    off?: number
  }>(`/api/characters/${id}/frame`, request)
  const parts = Object.entries(raw.parts).map(([name, p]) => [
    name,
    { digest: p.digest, points: floats(p.points), normals: floats(p.normals) },
  ])
  const weights = raw.weights && Object.entries(raw.weights).map(([name, w]) => [name, { own: floats(w.own), total: floats(w.total) }])
  return {
    revision: raw.revision,
    parts: Object.fromEntries(parts),
    bones: floats(raw.bones),
    handles: raw.handles && floats(raw.handles),
    weights: weights && Object.fromEntries(weights),
    off: raw.off,
    tint: raw.tint && Object.fromEntries(Object.entries(raw.tint).map(([name, bytes]) => [name, floats(bytes)])),
  }
}
