import type { CharacterOut } from '../api/client'
import { later } from '../ui/later'

type Shown = { character: CharacterOut }

/** What is loaded when it is first opened: the stage with its 3D library, the panel of each station, the sheets under the stage. */
export const Stage = later(() => import('../stage/Stage').then((m) => m.Stage))
export const WeightSheet = later<Shown>(() => import('./weights/sheet/WeightSheet').then((m) => m.WeightSheet))
export const MixBoard = later<Shown>(() => import('./mix/MixBoard').then((m) => m.MixBoard))
export const ShapeSheet = later<Shown>(() => import('./shapes/sheet/ShapeSheet').then((m) => m.ShapeSheet))

export const PANELS: Partial<Record<string, ReturnType<typeof later<Shown>>>> = {
  checkin: later<Shown>(() => import('./checkin/CheckInPanel').then((m) => m.CheckInPanel)),
  landmarks: later<Shown>(() => import('./landmarks/LandmarksPanel').then((m) => m.LandmarksPanel)),
  binding: later<Shown>(() => import('./binding/BindingPanel').then((m) => m.BindingPanel)),
  weights: later<Shown>(() => import('./weights/WeightsPanel').then((m) => m.WeightsPanel)),
  lids: later<Shown>(() => import('./lids/LidsPanel').then((m) => m.LidsPanel)),
  jaw: later<Shown>(() => import('./jaw/JawPanel').then((m) => m.JawPanel)),
  shapes: later<Shown>(() => import('./shapes/ShapesPanel').then((m) => m.ShapesPanel)),
  controls: later<Shown>(() => import('./controls/ControlsPanel').then((m) => m.ControlsPanel)),
  mix: later<Shown>(() => import('./mix/MixPanel').then((m) => m.MixPanel)),
  handoff: later<Shown>(() => import('./handoff/HandoffPanel').then((m) => m.HandoffPanel)),
}
