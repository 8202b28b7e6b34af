
/** What stands under the stage. */
export type DockTab = 'poses' | 'controls' | 'takes'

/** The pose that is shown, and playing through the strip. */
export interface PoseState {
  /** Control values away from rest, as dragged. A pose of the strip fills them in. */
  values: Record<string, number>
  pose: string | null
  /** Is a frame of a take on the stage? */
  ofTake: boolean
  strength: number
  holdNeutral: boolean
  /** A little movement on top of the pose, to show what a bone does; never kept. */
  nudge: Record<string, number>
  /** Playing through the strip: where it is, counted in poses, and how fast. */
  playing: boolean
  playedTo: number
  speed: number
  dock: DockTab
  /** Of the strip: only poses that are over a limit; and all of them at once, in rows. */
  onlyOver: boolean
  poseGrid: boolean
}

/** As it is when a character is opened. */
export const poseFresh: Omit<PoseState, 'speed' | 'dock' | 'poseGrid'> = {
  values: {},
  pose: 'neutral',
  ofTake: false,
  strength: 1,
  holdNeutral: false,
  nudge: {},
  playing: false,
  playedTo: 0,
  onlyOver: false,
}

/** As it is at first; it outlives a change of character. */
export const poseKept: Pick<PoseState, 'speed' | 'dock' | 'poseGrid'> = {
  speed: 1,
  poseGrid: false,
  dock: 'poses',
}
