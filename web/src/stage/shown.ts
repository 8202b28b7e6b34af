import type { MeshPart } from '../api/frames'
import type { Colours } from './partView'

/** What the stage shows beside the posed points. */
export interface Shown {
  wires: (part: MeshPart) => boolean
  colours: Colours
  bones: boolean
  glass: (part: MeshPart) => boolean
  dark: boolean
  visible: (part: string) => boolean
}
