import type { EffectsOut, MeasureOut } from '../../api/client'

/** What was measured of the character, and pictures of its poses. */
export interface MeasuredState {
  reports: Record<string, MeasureOut>
  measured: number
  /** What the last edit did to all test poses, once they are measured again. */
  effects: EffectsOut | null
  /** The picture of each test pose, with the key of what it shows. */
  thumbnails: Record<string, { key: string; picture: string }>
}

/** As it is when a character is opened. */
export const measuredFresh: Omit<MeasuredState, never> = {
  reports: {},
  measured: 0,
  effects: null,
  thumbnails: {},
}
