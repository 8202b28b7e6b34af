
/** Vertices of one part. */
export type Snap = 'surface' | 'vertex' | 'edge loop'

/** What the Landmarks station is at work on. */
export type Placing = 'eyes' | 'landmarks' | 'bones'

/** Which bones are drawn, and whether over or behind the surface. */
export interface BoneFilter {
  regions: ReadonlySet<string> | null
  deform: boolean
  helper: boolean
  behind: boolean
  axes: boolean
}

/** The work at Landmarks. */
export interface LandmarkState {
  placing: Placing
  /** The landmark and the bone that are picked. */
  mark: string | null
  bone: string | null
  /** The bone under the pointer, in the list or on the stage. */
  hoveredBone: string | null
  boneFilter: BoneFilter
  /** Ends of the picked bone are being moved, with the head in its neutral. */
  movingEnds: boolean
  snap: Snap
  /** Capsules of the bones are drawn. */
  envelopes: boolean
}

/** As it is when a character is opened. */
export const landmarkFresh: Omit<LandmarkState, 'boneFilter' | 'snap'> = {
  placing: 'eyes',
  mark: null,
  bone: null,
  hoveredBone: null,
  movingEnds: false,
  envelopes: false,
}

/** As it is at first; it outlives a change of character. */
export const landmarkKept: Pick<LandmarkState, 'boneFilter' | 'snap'> = {
  boneFilter: { regions: null, deform: true, helper: true, behind: false, axes: false },
  snap: 'surface',
}
