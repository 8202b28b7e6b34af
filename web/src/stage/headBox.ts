import type { CharacterOut } from '../api/client'
import type { StageEngine } from './engine'

type Point = [number, number, number]

/** A box on the canvas, CSS pixels. */
export interface Box {
  left: number
  right: number
  top: number
  bottom: number
}

const EAR = 0.12 // of the width between the ears that they stand out

/** Where the head is on the canvas, from crown to chin and from ear to ear; null where that is not known. */
export function headBox(engine: StageEngine, character: CharacterOut): Box | null {
  const mark = (name: string) => character.landmarks.find((m) => m.name === name)?.point as Point | undefined
  const points = [character.guides.crown, character.guides.chin_under, mark('ear_top_L'), mark('ear_top_R')] as (Point | undefined)[]
  const places = points.map((p) => p && engine.project(p))
  if (places.some((p) => !p)) return null
  const [xs, ys] = [places.map((p) => p!.x), places.map((p) => p!.y)]
  const wide = Math.max(...xs) - Math.min(...xs)
  return { left: Math.min(...xs) - EAR * wide, right: Math.max(...xs) + EAR * wide, top: Math.min(...ys), bottom: Math.max(...ys) }
}

export const overlap = (a: Box, b: Box) => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom
