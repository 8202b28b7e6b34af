import type { SculptDab } from '../../api/paint'
import type { ChosenList } from '../../api/client'

export type SculptTool = SculptDab['tool']

/** The work at Shapes. */
export interface ShapeState {
  /** The shape that the brush sculpts, and how; what its last stroke could not reach, mm. */
  sculpting: string | null
  sculptTool: SculptTool
  missed: number
  /** The shapes that are chosen in the sheet, the last one clicked at the end. */
  chosenShapes: string[]
  shapeSheet: boolean
  /** The name list that the shapes are matched against. */
  nameList: ChosenList | null
  shapePictures: Record<string, string>
}

/** As it is when a character is opened. */
export const shapeFresh: Omit<ShapeState, 'sculptTool' | 'shapeSheet'> = {
  sculpting: null,
  missed: 0,
  chosenShapes: [],
  nameList: null,
  shapePictures: {},
}

/** As it is at first; it outlives a change of character. */
export const shapeKept: Pick<ShapeState, 'sculptTool' | 'shapeSheet'> = {
  sculptTool: 'move',
  shapeSheet: true,
}
