import { create } from 'zustand'
import { stageQuality } from '../stage/quality'
import type { Tint } from '../api/frames'
import type { SculptDab } from '../api/paint'
import type { Check, CharacterOut, ChosenList, CurveKey, EffectsOut, EyeLids, LidMap, MeasureOut, PreviewOut } from '../api/client'

/** What stands under the stage. */
export type DockTab = 'poses' | 'controls' | 'takes'

export type ViewName = 'front' | 'three-quarter' | 'side' | 'under-chin' | 'eye-l' | 'eye-r' | 'mouth' | 'inside'

export interface Display {
  wires: boolean
  weights: boolean
  bones: boolean
  glass: boolean
  smooth: boolean
  dark: boolean
}

export interface Pick {
  part: string
  vertex: number
}

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

export type BrushTool = 'add' | 'take' | 'set' | 'smooth' | 'even'
export type SculptTool = SculptDab['tool']

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

export interface Patch {
  part: string
  vertices: number[]
}

/** What the camera is asked to look at: a view, a point, or vertices. */
export type Wish = { view: ViewName } | { view: null; point: [number, number, number]; close?: number } | { view: null; places: Patch[]; margin?: number }

/** A repair that is tried out: the draft that frames show it by, null where they cannot; what goes far, and arrows to where: pairs of points, cm. */
export interface Trial {
  draft: string | null
  moved: Patch[]
  arrows: number[]
}

export type ShownMap = LidMap | { relief: string } | { shape: string; below: number }

export const isLidMap = (map: ShownMap): map is LidMap => 'side' in map

export interface BenchState {
  character: CharacterOut | null
  /** Control values away from rest, as dragged. A pose of the strip fills them in. */
  values: Record<string, number>
  pose: string | null
  strength: number
  holdNeutral: boolean
  display: Display
  weightBone: string
  /** Where the camera was last asked to go. A new object each time, so that the same place can be asked for again. */
  camera: Wish
  /** Has the hand turned it away from there? */
  turned: boolean
  hidden: ReadonlySet<string>
  isolated: string | null
  pick: Pick | null
  selectedPart: string | null
  seam: string | null
  /** Key of the check that is open at Check-in. */
  check: string | null
  /** What comparing with a second file gave; it is not kept with the character. */
  twin: Check | null
  /** What a station other than Check-in shows on the stage, told in the same way as a check. */
  spot: Check | null
  /** What a repair would do, while it is only looked at. */
  preview: PreviewOut | null
  placing: Placing
  /** The landmark and the bone that are picked. */
  mark: string | null
  bone: string | null
  /** The bone under the pointer, in the list or on the stage. */
  hoveredBone: string | null
  boneFilter: BoneFilter
  /** Ends of the picked bone are being moved, with the head in its neutral. */
  movingEnds: boolean
  /** What the Weights station works on. */
  selection: Patch | null
  lasso: boolean
  /** The pointer paints instead of picking. */
  painting: boolean
  brush: BrushState
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
  /** The map of lids, or the region of a relief, that is shown and painted in place of weights. */
  shownMap: ShownMap | null
  /** The relief that is worked on at Jaw. */
  relief: string | null
  /** The eye that is worked on at Lids, and whether a section of its lids is drawn. */
  lidSide: EyeLids['side']
  cutOpen: boolean
  /** A closed line that was copied; it outlives a change of character. */
  /** The response curve of a link that was copied. */
  copiedResponse: CurveKey[] | null
  copiedLine: CurveKey[] | null
  /** Counts strokes that were stored or given up: what the stage shows is asked for again after each. */
  strokes: number
  sheetOpen: boolean
  /** Nothing but the selection is drawn. */
  alone: Patch | null
  /** The difference that the surface is coloured by. */
  tint: Tint | null
  /** The largest difference that is shown, mm or %. */
  tintMost: number
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
  /** Capsules of the bones are drawn. */
  envelopes: boolean
  /** Bones whose weights no edit may change. */
  locked: string[]
  keepTotal: boolean
  /** Work on one side goes to the other as well. */
  mirror: boolean
  snap: Snap
  /** A little movement on top of the pose, to show what a bone does; never kept. */
  nudge: Record<string, number>
  /** Playing through the strip: where it is, counted in poses, and how fast. */
  playing: boolean
  playedTo: number
  speed: number
  reports: Record<string, MeasureOut>
  measured: number
  /** What the last edit did to all test poses, once they are measured again. */
  effects: EffectsOut | null
  /** The picture of each test pose, with the key of what it shows. */
  thumbnails: Record<string, { key: string; picture: string }>
  dock: DockTab
  partsOpen: boolean
  /** Is the face plan shown large? */
  planOpen: boolean
  keysOpen: boolean
  bareStage: boolean
  set: (changes: Partial<BenchState>) => void
  toggle: (name: keyof Display) => void
  drag: (control: string, value: number) => void
  goToPose: (name: string) => void
  /** Puts the stage in a pose that is not of the strip. */
  goTo: (values: Record<string, number>) => void
  flyTo: (view: ViewName) => void
  lookAt: (point: [number, number, number]) => void
  frame: (places: Patch[], margin?: number) => void
  setStrength: (strength: number) => void
}

const FRESH = {
  values: {},
  pose: 'neutral',
  strength: 1,
  holdNeutral: false,
  hidden: new Set<string>(),
  isolated: null,
  pick: null,
  selectedPart: null,
  seam: null,
  check: null,
  twin: null,
  spot: null,
  preview: null,
  placing: 'eyes' as Placing,
  mark: null,
  bone: null,
  hoveredBone: null,
  movingEnds: false,
  selection: null,
  lasso: false,
  painting: false,
  shownMap: null,
  sculpting: null,
  missed: 0,
  chosenShapes: [] as string[],
  nameList: null,
  shapePictures: {},
  relief: null,
  lidSide: 'L' as EyeLids['side'],
  strokes: 0,
  envelopes: false,
  arrows: [],
  trial: null,
  holdBefore: false,
  sheetOpen: false,
  alone: null,
  tint: null,
  tintMost: 0,
  pin: null,
  comparing: false,
  playing: false,
  playedTo: 0,
  split: 0.5,
  locked: [],
  nudge: {},
  reports: {},
  measured: 0,
  effects: null,
  thumbnails: {},
  partsOpen: false,
  planOpen: false,
  keysOpen: false,
  bareStage: false,
}

export const useBench = create<BenchState>((set, get) => ({
  character: null,
  ...FRESH,
  camera: { view: 'three-quarter' },
  turned: false,
  display: { wires: false, weights: false, bones: false, glass: false, smooth: stageQuality() === 'fine', dark: false },
  weightBone: 'jaw',
  boneFilter: { regions: null, deform: true, helper: true, behind: false, axes: false },
  brush: { tool: 'add', radius: 10, strength: 15, value: 100, falloff: 'soft', through: false, most: 100, onlySelection: false },
  sculptTool: 'move',
  shapeSheet: true,
  copiedResponse: null,
  copiedLine: null,
  cutOpen: true,
  speed: 1,
  mirror: true,
  keepTotal: true,
  snap: 'surface',
  dock: 'poses',
  set: (changes) => set(changes),
  toggle: (name) => {
    const display = { ...get().display, [name]: !get().display[name] }
    // what is rigged and measured is the true mesh: wires show it, so the smooth view steps back
    if (name === 'wires' && display.wires) display.smooth = false
    if (name === 'smooth' && display.smooth) display.wires = false
    set({ display })
  },
  drag: (control, value) => get().goTo({ ...get().values, [control]: value }),
  goTo: (values) => set({ values, pose: null, strength: 1, playing: false }),
  goToPose: (name) => {
    const pose = get().character?.poses.find((p) => p.name === name)
    const at = get().character?.poses.indexOf(pose!) ?? 0
    if (pose) set({ pose: name, strength: 1, playing: false, playedTo: at, values: { ...pose.values } })
  },
  flyTo: (view) => set({ camera: { view }, turned: false }),
  lookAt: (point) => set({ camera: { view: null, point }, turned: false }),
  frame: (places, margin) => set({ camera: { view: null, places, margin }, turned: false }),
  setStrength: (strength) => {
    const { character, pose } = get()
    const found = character?.poses.find((p) => p.name === pose)
    if (!character || !found) return
    const scaled = Object.entries(found.values).map(([name, value]) => {
      const rest = character.controls.find((c) => c.name === name)?.rest ?? 0
      return [name, rest + (value - rest) * strength]
    })
    set({ strength, values: Object.fromEntries(scaled) as Record<string, number> })
  },
}))

/** Forget everything about the character that was open. */
export const openFresh = () => useBench.setState({ character: null, ...FRESH, camera: { view: 'three-quarter' }, turned: false })

const AT_REST: Record<string, number> = {}

/** The name of a shape's own strength, which is a control like any other. */
export const strengthOf = (shape: string) => `${shape}.strength`

/** Control values to draw: at rest while neutral is held or ends of bones are moved. */
export const shownValues = (s: BenchState) => (s.holdNeutral || s.movingEnds ? AT_REST : s.values)

/** The difference that colours tell: what is tried goes before all others, and shows its natural colours while what is now is held up. */
export const shownTint = ({ trial, holdBefore, tint }: BenchState): Tint | null => (trial?.draft ? (holdBefore ? null : 'draft') : tint)

/** Which parts are drawn: the one the selection is alone on, the one that was isolated, else all that are not hidden. */
export const partShown = ({ alone, isolated, hidden }: { alone: Patch | null; isolated: string | null; hidden: ReadonlySet<string> }) => {
  const only = alone?.part ?? isolated
  return (part: string) => (only ? part === only : !hidden.has(part))
}

/** Put a bone's own control back to rest. */
export function boneToRest(bone: string) {
  const { values, set } = useBench.getState()
  const left = Object.entries(values).filter(([name]) => !name.startsWith(`${bone}.turn_`) && !name.startsWith(`${bone}.move_`))
  set({ values: Object.fromEntries(left), pose: null, strength: 1 })
}
