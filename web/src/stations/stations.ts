export interface Station {
  key: string
  label: string
  /** What the station will do, while it does not do it yet. */
  promise: string
}

/** Stations that do their work already. */
const isBuilt = (station: Station) => station.promise === ''

/** Can the work at a station have been done? Without a rig there is only checking in. */
export const begun = (station: Station, rigged: boolean) => isBuilt(station) && (station.key === 'checkin' || rigged)

/** The ten stations in the order of work. */
export const STATIONS: Station[] = [
  { key: 'checkin', label: 'Check-in', promise: '' },
  { key: 'landmarks', label: 'Landmarks', promise: '' },
  { key: 'binding', label: 'Binding', promise: '' },
  { key: 'weights', label: 'Weights', promise: '' },
  { key: 'lids', label: 'Lids', promise: '' },
  { key: 'jaw', label: 'Jaw', promise: '' },
  { key: 'shapes', label: 'Shapes', promise: '' },
  { key: 'controls', label: 'Controls', promise: '' },
  { key: 'mix', label: 'Mix', promise: '' },
  { key: 'handoff', label: 'Hand-off', promise: 'Will check limits and names before the rig leaves. Export as GLB or character file works today, from the bar above the stage.' },
]
