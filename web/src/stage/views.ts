import type { CharacterOut } from '../api/client'
import type { ViewName } from '../state/bench'

export interface View {
  target: [number, number, number]
  distance: number
  /** Degrees to the character's left of straight ahead, and up. */
  azimuth: number
  elevation: number
}

export const VIEWS: { name: ViewName; label: string }[] = [
  { name: 'front', label: 'Front' },
  { name: 'three-quarter', label: 'Three-quarter' },
  { name: 'side', label: 'Side' },
  { name: 'under-chin', label: 'Under chin' },
  { name: 'eye-l', label: 'Eye L' },
  { name: 'eye-r', label: 'Eye R' },
  { name: 'mouth', label: 'Mouth' },
  { name: 'inside', label: 'Inside' },
]

/** Where each view stands, from the landmarks of the character (cm). */
export function viewOf(name: ViewName, character: CharacterOut): View {
  const mark = (wanted: string) => character.landmarks.find((m) => m.name === wanted)?.point as [number, number, number] | undefined
  const crown = mark('crown') ?? [0, 27, 0]
  const chin = mark('chin_under') ?? [0, 7, 6]
  const tall = crown[1] - chin[1]
  const middle: [number, number, number] = [0, (crown[1] + chin[1]) / 2 + tall * 0.01, 0.5]
  const whole = { target: middle, distance: tall * 3.45 }
  const mouth = mark('lip_upper') ?? [0, 10, 7.5]
  const eye = (side: string): View => ({ target: mark(`eye_centre_${side}`) ?? [0, 16, 5], distance: tall * 0.95, azimuth: 0, elevation: 2 })
  switch (name) {
    case 'front':
      return { ...whole, azimuth: 0, elevation: 2 }
    case 'side':
      return { ...whole, azimuth: 90, elevation: 2 }
    case 'under-chin':
      return { target: [0, chin[1] + 3, 3], distance: tall * 2.2, azimuth: 14, elevation: -38 }
    case 'eye-l':
      return eye('L')
    case 'eye-r':
      return eye('R')
    case 'mouth':
      return { target: [0, mouth[1] - 1, mouth[2] - 2], distance: tall * 1.35, azimuth: 14, elevation: 3 }
    case 'inside':
      return { target: [0, mouth[1] - 1.2, mouth[2] - 3], distance: tall * 0.95, azimuth: 0, elevation: -4 }
    default:
      return { ...whole, azimuth: 30, elevation: 4 }
  }
}
