import type { LidMap } from '../../api/client'
import type { Patch } from './patch'

export type BrushTool = 'add' | 'take' | 'set' | 'smooth' | 'even'

/** The brush of all stations that paint. */
export interface BrushState {
  tool: BrushTool
  /** mm over the posed surface */
  radius: number
  /** % of a dab that arrives at its middle */
  strength: number
  /** %, what Set goes towards */
  value: number
  falloff: 'soft' | 'linear' | 'hard'
  through: boolean
  /** % that one stroke may change at most; 100 for no end */
  most: number
  onlySelection: boolean
}

export type ShownMap = LidMap | { relief: string } | { shape: string; below: number }

export const isLidMap = (map: ShownMap): map is LidMap => 'side' in map

/** The work at Binding and Weights, and the brush of all stations that paint. */
export interface WeightState {
  weightBone: string
  /** What the Weights station works on. */
  selection: Patch | null
  lasso: boolean
  /** The pointer paints instead of picking. */
  painting: boolean
  brush: BrushState
  /** The map of lids, or the region of a relief, that is shown and painted in place of weights. */
  shownMap: ShownMap | null
  /** Counts strokes that were stored or given up: what the stage shows is asked for again after each. */
  strokes: number
  /** Bones whose weights no edit may change. */
  locked: string[]
  keepTotal: boolean
  /** Work on one side goes to the other as well. */
  mirror: boolean
  sheetOpen: boolean
}

/** As it is when a character is opened. */
export const weightFresh: Omit<WeightState, 'weightBone' | 'brush' | 'keepTotal' | 'mirror'> = {
  selection: null,
  lasso: false,
  painting: false,
  shownMap: null,
  strokes: 0,
  locked: [],
  sheetOpen: false,
}

/** As it is at first; it outlives a change of character. */
export const weightKept: Pick<WeightState, 'weightBone' | 'brush' | 'keepTotal' | 'mirror'> = {
  weightBone: 'jaw',
  brush: { tool: 'add', radius: 10, strength: 15, value: 100, falloff: 'soft', through: false, most: 100, onlySelection: false },
  keepTotal: true,
  mirror: true,
}
