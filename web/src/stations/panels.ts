import { lazy, type ComponentType } from 'react'
import type { CharacterOut } from '../api/client'

/** What is loaded when it is first opened: the stage with its 3D library, the panel of each station, the sheets under the stage. */
export const Stage = lazy(() => import('../stage/Stage').then((m) => ({ default: m.Stage })))
export const WeightSheet = lazy(() => import('./weights/sheet/WeightSheet').then((m) => ({ default: m.WeightSheet })))
export const ShapeSheet = lazy(() => import('./shapes/sheet/ShapeSheet').then((m) => ({ default: m.ShapeSheet })))

export const PANELS: Record<string, ComponentType<{ character: CharacterOut }>> = {
  checkin: lazy(() => import('./checkin/CheckInPanel').then((m) => ({ default: m.CheckInPanel }))),
  landmarks: lazy(() => import('./landmarks/LandmarksPanel').then((m) => ({ default: m.LandmarksPanel }))),
  binding: lazy(() => import('./binding/BindingPanel').then((m) => ({ default: m.BindingPanel }))),
  weights: lazy(() => import('./weights/WeightsPanel').then((m) => ({ default: m.WeightsPanel }))),
  lids: lazy(() => import('./lids/LidsPanel').then((m) => ({ default: m.LidsPanel }))),
  jaw: lazy(() => import('./jaw/JawPanel').then((m) => ({ default: m.JawPanel }))),
  shapes: lazy(() => import('./shapes/ShapesPanel').then((m) => ({ default: m.ShapesPanel }))),
  controls: lazy(() => import('./controls/ControlsPanel').then((m) => ({ default: m.ControlsPanel }))),
}
