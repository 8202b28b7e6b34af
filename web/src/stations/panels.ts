import { lazy, type ComponentType } from 'react'
import type { CharacterOut } from '../api/client'

type Panel = ComponentType<{ character: CharacterOut }>

const loadStage = () => import('../stage/Stage').then((m) => ({ default: m.Stage }))
const LOADING: Record<string, () => Promise<{ default: Panel }>> = {
  checkin: () => import('./checkin/CheckInPanel').then((m) => ({ default: m.CheckInPanel })),
  landmarks: () => import('./landmarks/LandmarksPanel').then((m) => ({ default: m.LandmarksPanel })),
  binding: () => import('./binding/BindingPanel').then((m) => ({ default: m.BindingPanel })),
  weights: () => import('./weights/WeightsPanel').then((m) => ({ default: m.WeightsPanel })),
  lids: () => import('./lids/LidsPanel').then((m) => ({ default: m.LidsPanel })),
  jaw: () => import('./jaw/JawPanel').then((m) => ({ default: m.JawPanel })),
  shapes: () => import('./shapes/ShapesPanel').then((m) => ({ default: m.ShapesPanel })),
  controls: () => import('./controls/ControlsPanel').then((m) => ({ default: m.ControlsPanel })),
}

/** What is loaded when it is first opened: the stage with its 3D library, the panel of each station, the sheets under the stage. */
export const Stage = lazy(loadStage)
export const WeightSheet = lazy(() => import('./weights/sheet/WeightSheet').then((m) => ({ default: m.WeightSheet })))
export const ShapeSheet = lazy(() => import('./shapes/sheet/ShapeSheet').then((m) => ({ default: m.ShapeSheet })))

export const PANELS: Record<string, Panel> = Object.fromEntries(Object.entries(LOADING).map(([key, load]) => [key, lazy(load)]))

/** Load what a station is shown with, before it is drawn. */
export const loadAhead = (station: string) => void Promise.allSettled([loadStage(), LOADING[station]?.()])
