import type { CurveKey } from '../../api/client'

/** How the keys of a curve lie on a picture. */
export interface CurvePlane {
  /** Pixels of a place and a value. */
  pixel: (at: number, value: number) => [number, number]
  /** Place and value of pixels. */
  place: (x: number, y: number) => [number, number]
  at: [number, number]
  value: [number, number]
  /** The least distance between two keys. */
  closest: number
  /** The first and the last key stay where they are, and cannot be deleted. */
  endsStay: boolean
}

/** Keys of a curve while they are worked on. */
export interface CurveEditing {
  keys: CurveKey[]
  picked: number
  plane: CurvePlane
  onPick: (k: number) => void
  /** While something is dragged. */
  onDraw: (keys: CurveKey[]) => void
  onSet: (keys: CurveKey[]) => void
}

/** Places and values laid out straight on a picture with an edge round it. */
export function planeOf(size: { width: number; height: number }, edge: number, at: [number, number], value: [number, number], closest: number, endsStay = false): CurvePlane {
  const [wide, tall] = [size.width - 2 * edge, size.height - 2 * edge]
  return {
    pixel: (a, v) => [edge + ((a - at[0]) / (at[1] - at[0])) * wide, size.height - edge - ((v - value[0]) / (value[1] - value[0])) * tall],
    place: (x, y) => [at[0] + ((x - edge) / wide) * (at[1] - at[0]), value[0] + ((size.height - edge - y) / tall) * (value[1] - value[0])],
    at,
    value,
    closest,
    endsStay,
  }
}

export const within = (v: number, [low, high]: [number, number]) => Math.min(high, Math.max(low, v))

/** Keys with one of them moved, as far as its neighbours and the ranges let it. */
export function moved(keys: CurveKey[], k: number, to: { at: number; value: number }, plane: CurvePlane): CurveKey[] {
  const last = keys.length - 1
  const room: [number, number] = [k > 0 ? keys[k - 1]!.at + plane.closest : plane.at[0], k < last ? keys[k + 1]!.at - plane.closest : plane.at[1]]
  const at = plane.endsStay && (k === 0 || k === last) ? keys[k]!.at : within(to.at, room)
  return keys.map((key, j) => (j === k ? { ...key, at, value: within(to.value, plane.value) } : key))
}

/** Keys with a new one; null where another one is too near. */
export function added(keys: CurveKey[], at: number, value: number, plane: CurvePlane): CurveKey[] | null {
  if (keys.some((k) => Math.abs(k.at - at) < plane.closest)) return null
  const made = { at: within(at, plane.at), value: within(value, plane.value), slope: null }
  return [...keys, made].sort((a, b) => a.at - b.at)
}

export const deletable = (keys: CurveKey[], k: number, plane: CurvePlane) => (plane.endsStay ? k > 0 && k < keys.length - 1 : keys.length > 1)

/** Keys with the tangent of one turned to a slope of its own, or back to one that never overshoots (null). */
export const sloped = (keys: CurveKey[], k: number, slope: number | null) => keys.map((key, j) => (j === k ? { ...key, slope } : key))
