import type { CharacterOut } from '../api/client'
import type { ViewName } from '../state/work/view'

export interface View {
  target: [number, number, number]
  distance: number
  /** Degrees to the character's left of straight ahead, and up. */
  azimuth: number
  elevation: number
}

export const VIEWS: { name: ViewName; label: string; title: string }[] = [
  { name: 'front', label: 'Front', title: 'Front' },
  { name: 'three-quarter', label: 'Quarter', title: 'Three-quarter' },
  { name: 'side', label: 'Side', title: 'Side' },
  { name: 'under-chin', label: 'Chin', title: 'Under the chin' },
  { name: 'eye-l', label: 'Eye L', title: 'Eye L' },
  { name: 'eye-r', label: 'Eye R', title: 'Eye R' },
  { name: 'mouth', label: 'Mouth', title: 'Mouth' },
  { name: 'inside', label: 'Inside', title: 'Inside the mouth' },
]

/** Where each view stands, from landmarks or what was found on the mesh in their place (cm). */
export function viewOf(name: ViewName | 'portrait', character: CharacterOut): View {
  const guide = (wanted: string) => character.guides[wanted] as [number, number, number] | undefined
  const crown = guide('crown') ?? [0, 27, 0]
  const chin = guide('chin_under') ?? [0, 7, 6]
  const tall = Math.max(1e-3, crown[1] - chin[1])
  // points before the face lie along the way it looks
  const heading = (character.heading * Math.PI) / 180
  const ahead = (point: [number, number, number], up: number, forward: number): [number, number, number] => [
    point[0] + Math.sin(heading) * forward,
    point[1] + up,
    point[2] + Math.cos(heading) * forward,
  ]
  const middle = ahead([(crown[0] + chin[0]) / 2, (crown[1] + chin[1]) / 2, (crown[2] + chin[2]) / 2], tall * 0.01, -tall * 0.08)
  const lower = ahead(middle, -tall * 0.03, 0) // bun below the tools, collar in the picture
  const mouth = guide('lip_upper') ?? ahead([chin[0], chin[1] + tall * 0.2, chin[2]], 0, tall * 0.05)
  const view = (target: [number, number, number], distance: number, azimuth: number, elevation: number): View => ({
    target,
    distance: tall * distance,
    azimuth: azimuth + character.heading,
    elevation,
  })
  switch (name) {
    case 'front':
      return view(lower, 3.9, 0, 2)
    case 'side':
      return view(lower, 3.9, 90, 2)
    case 'under-chin':
      return view(ahead(chin, tall * 0.15, -tall * 0.06), 2.2, 14, -38)
    case 'eye-l':
    case 'eye-r':
      return view(guide(name === 'eye-l' ? 'eye_centre_L' : 'eye_centre_R') ?? middle, 0.95, 0, 2)
    case 'mouth':
      return view(ahead(mouth, -1, -2), 1.35, 14, 3)
    case 'inside':
      return view(ahead(mouth, -1.2, -3), 0.95, 0, -4)
    case 'portrait':
      return view(lower, 3.75, 26, 3)
    default:
      return view(lower, 4.1, 26, 4)
  }
}
