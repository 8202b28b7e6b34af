import type { Tint } from '../../api/frames'
import { stageQuality } from '../../stage/quality'
import type { Check } from '../../api/client'
import type { Patch } from './patch'

export type ViewName = 'front' | 'three-quarter' | 'side' | 'under-chin' | 'eye-l' | 'eye-r' | 'mouth' | 'inside'

export interface Display {
  wires: boolean
  weights: boolean
  bones: boolean
  glass: boolean
  smooth: boolean
  dark: boolean
}

export interface PickedVertex {
  part: string
  vertex: number
}

/** What the camera is asked to look at: a view, a point, or vertices. */
export type Wish = { view: ViewName } | { view: null; point: [number, number, number]; close?: number } | { view: null; places: Patch[]; margin?: number }

/** A repair that is tried out: the draft that frames show it by, null where they cannot; what goes far, and arrows to where: pairs of points, cm. */
export interface Trial {
  draft: string | null
  moved: Patch[]
  arrows: number[]
}

/** What of the head is seen, from where, and in which colours. */
export interface ViewState {
  /** Has the head been drawn, or will it not be? Until then the machine is the stage's. */
  stageReady: boolean
  display: Display
  /** Where the camera was last asked to go. A new object each time, so that the same place can be asked for again. */
  camera: Wish
  /** Has the hand turned it away from there? */
  turned: boolean
  hidden: ReadonlySet<string>
  isolated: string | null
  /** Nothing but the selection is drawn. */
  alone: Patch | null
  /** The difference that the surface is coloured by. */
  tint: Tint | null
  /** The difference from which on the colour is full, mm or %; and what was asked for, of which difference. */
  tintMost: number
  /** The package that the stage shows as it arrives, of which revision it was made, and the parts that are not in it. */
  arrived: { key: string; revision: number; without: string[] } | null
  /** How far a vertex is off in the pose that is shown as it arrives, mm; null before it is drawn. */
  arrivedOff: number | null
  tintUpTo: { of: Tint; most: number } | null
  /** The revision that is compared with, and whether it is drawn beside. */
  pin: { number: number; text: string } | null
  comparing: boolean
  /** Where the compare handle stands, as a share of the stage's width. */
  split: number
  /** Arrows on the stage: pairs of points, cm. */
  arrows: number[]
  trial: Trial | null
  /** While something is tried: what is now is shown. */
  holdBefore: boolean
  partsOpen: boolean
  keysOpen: boolean
  bareStage: boolean
  pick: PickedVertex | null
  selectedPart: string | null
  /** What a station other than Check-in shows on the stage, told in the same way as a check. */
  spot: Check | null
  seam: string | null
  cutOpen: boolean
}

/** As it is when a character is opened. */
export const viewFresh: Omit<ViewState, 'display' | 'camera' | 'turned' | 'cutOpen'> = {
  hidden: new Set<string>(),
  isolated: null,
  alone: null,
  tint: null,
  tintMost: 0,
  arrived: null,
  arrivedOff: null,
  tintUpTo: null,
  pin: null,
  comparing: false,
  split: 0.5,
  arrows: [],
  stageReady: false,
  trial: null,
  holdBefore: false,
  partsOpen: false,
  keysOpen: false,
  bareStage: false,
  pick: null,
  selectedPart: null,
  spot: null,
  seam: null,
}

/** As it is at first; it outlives a change of character. */
export const viewKept: Pick<ViewState, 'display' | 'camera' | 'turned' | 'cutOpen'> = {
  display: { wires: false, weights: false, bones: false, glass: false, smooth: stageQuality() === 'fine', dark: false },
  camera: { view: 'three-quarter' },
  turned: false,
  cutOpen: true,
}
