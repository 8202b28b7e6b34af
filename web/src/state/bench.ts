import { create } from 'zustand'
import type { Tint } from '../api/frames'
import type { CharacterOut } from '../api/client'
import { checkInFresh, type CheckInState } from './work/checkin'
import { faceFresh, faceKept, type FaceState } from './work/faces'
import { landmarkFresh, landmarkKept, type LandmarkState } from './work/landmarks'
import { measuredFresh, type MeasuredState } from './work/measured'
import type { Patch } from './work/patch'
import { poseFresh, poseKept, type PoseState } from './work/poses'
import { shapeFresh, shapeKept, type ShapeState } from './work/shapes'
import { viewFresh, viewKept, type Display, type ViewName, type ViewState } from './work/view'
import { weightFresh, weightKept, type WeightState } from './work/weights'

interface BenchActions {
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

/** The bench: whoever is on it, and the state of the work at each station. */
export interface BenchState extends PoseState, ViewState, MeasuredState, CheckInState, LandmarkState, WeightState, FaceState, ShapeState, BenchActions {
  character: CharacterOut | null
}

const FRESH = { ...poseFresh, ...viewFresh, ...measuredFresh, ...checkInFresh, ...landmarkFresh, ...weightFresh, ...faceFresh, ...shapeFresh }
const KEPT = { ...poseKept, ...viewKept, ...landmarkKept, ...weightKept, ...faceKept, ...shapeKept }

export const useBench = create<BenchState>((set, get) => ({
  character: null,
  ...FRESH,
  ...KEPT,
  set: (changes) => set(changes),
  toggle: (name) => {
    const display = { ...get().display, [name]: !get().display[name] }
    // what is rigged and measured is the true mesh: wires show it, so the smooth view steps back
    if (name === 'wires' && display.wires) display.smooth = false
    if (name === 'smooth' && display.smooth) display.wires = false
    set({ display })
  },
  drag: (control, value) => get().goTo({ ...get().values, [control]: value }),
  goTo: (values) => set({ values, pose: null, ofTake: false, strength: 1, playing: false }),
  goToPose: (name) => {
    const pose = get().character?.poses.find((p) => p.name === name)
    const at = get().character?.poses.indexOf(pose!) ?? 0
    if (pose) set({ pose: name, ofTake: false, strength: 1, playing: false, playedTo: at, values: { ...pose.values } })
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

/** The character that is open, as it now is; the stage begins in the pose of the address. */
export function takeOn(character: CharacterOut) {
  const { character: before, goToPose } = useBench.getState()
  useBench.setState({ character })
  const pose = before ? null : new URLSearchParams(window.location.search).get('pose')
  if (pose) goToPose(pose)
}

const AT_REST: Record<string, number> = {}

/** Control values to draw: at rest while neutral is held or ends of bones are moved. */
export const shownValues = (s: BenchState) => (s.holdNeutral || s.movingEnds ? AT_REST : s.values)

/** The difference that colours tell: what is tried goes before all others, and shows its natural colours while what is now is held up. */
export const shownTint = (s: BenchState): Tint | null => {
  if (s.trial?.draft) return s.holdBefore ? null : 'draft'
  return s.character && shownArrived(s, s.character.revision.number) ? 'arrived' : s.tint
}

/** The package that is shown as it arrives: of this revision alone. */
export const shownArrived = ({ arrived, trial }: BenchState, revision: number) => (arrived?.revision === revision && !trial?.draft ? arrived.key : null)

/** From where on the colours of what is shown are meant to be full; null for what suits it. */
export const askedScale = (s: BenchState): number | null => (s.tintUpTo && s.tintUpTo.of === shownTint(s) ? s.tintUpTo.most : null)

/** Which parts are drawn: the one the selection is alone on, the one that was isolated, else all that are not hidden; of what arrives those that do. */
export const partShown = ({ alone, isolated, hidden, without = [] }: { alone: Patch | null; isolated: string | null; hidden: ReadonlySet<string>; without?: string[] }) => {
  const only = alone?.part ?? isolated
  return (part: string) => (only ? part === only : !hidden.has(part)) && !without.includes(part)
}

/** Put a bone's own control back to rest. */
export function boneToRest(bone: string) {
  const { values, set } = useBench.getState()
  const left = Object.entries(values).filter(([name]) => !name.startsWith(`${bone}.turn_`) && !name.startsWith(`${bone}.move_`))
  set({ values: Object.fromEntries(left), pose: null, strength: 1 })
}
