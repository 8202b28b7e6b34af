export interface Station {
  key: string
  label: string
}

/** Can the work at a station have been done? Without a rig there is only checking in; what is to be done at Hand-off hangs on who receives it. */
export const begun = (station: Station, rigged: boolean) => station.key === 'checkin' || (rigged && station.key !== 'handoff')

/** The ten stations in the order of work. */
export const STATIONS: Station[] = [
  { key: 'checkin', label: 'Check-in' },
  { key: 'landmarks', label: 'Landmarks' },
  { key: 'binding', label: 'Binding' },
  { key: 'weights', label: 'Weights' },
  { key: 'lids', label: 'Lids' },
  { key: 'jaw', label: 'Jaw' },
  { key: 'shapes', label: 'Shapes' },
  { key: 'controls', label: 'Controls' },
  { key: 'mix', label: 'Mix' },
  { key: 'handoff', label: 'Hand-off' },
]
