import type { CurveKey, EyeLids } from '../../api/client'

/** The work at Lids, Jaw and Controls. */
export interface FaceState {
  /** The eye that is worked on at Lids, and whether a section of its lids is drawn. */
  lidSide: EyeLids['side']
  /** A closed line that was copied; it outlives a change of character. */
  copiedLine: CurveKey[] | null
  /** The relief that is worked on at Jaw. */
  relief: string | null
  /** The response curve of a link that was copied; it outlives a change of character. */
  copiedResponse: CurveKey[] | null
  /** Is the face plan shown large? */
  planOpen: boolean
}

/** As it is when a character is opened. */
export const faceFresh: Omit<FaceState, 'copiedLine' | 'copiedResponse'> = {
  lidSide: 'L',
  relief: null,
  planOpen: false,
}

/** As it is at first; it outlives a change of character. */
export const faceKept: Pick<FaceState, 'copiedLine' | 'copiedResponse'> = {
  copiedLine: null,
  copiedResponse: null,
}
