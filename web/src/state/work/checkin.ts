import type { Check, PreviewOut } from '../../api/client'

/** The work at Check-in. */
export interface CheckInState {
  /** Key of the check that is open at Check-in. */
  check: string | null
  /** What comparing with a second file gave; it is not kept with the character. */
  twin: Check | null
  /** What a repair would do, while it is only looked at. */
  preview: PreviewOut | null
}

/** As it is when a character is opened. */
export const checkInFresh: Omit<CheckInState, never> = {
  check: null,
  twin: null,
  preview: null,
}
