import type { CharacterOut } from '../api/client'
import { faultsOf, useCheckIn } from './checkin'
import { useFindings, useStationFindings } from './findings'
import { useOffences } from './receiver'
import { stationOf } from './seams'

/** Counts of findings by the station that can repair them. */
function countByStation(character: CharacterOut, seams: string[]): Record<string, number> {
  const counts: Record<string, number> = {}
  for (const name of seams) {
    const seam = character.seams.find((s) => s.name === name)
    if (seam) counts[stationOf(seam)] = (counts[stationOf(seam)] ?? 0) + 1
  }
  return counts
}

/** How much waits at each station, by its key; what takes long to find only where it is the `current` one, or was found. */
export function useCounts(character: CharacterOut, current: string): Record<string, number> {
  const findings = countByStation(character, useFindings().map((f) => f.about))
  const jaw = useStationFindings(character, 'jaw', current === 'jaw').data?.length ?? 0
  const handoff = useOffences(character).data?.length ?? 0
  return { ...findings, jaw, handoff, mix: character.mixed ?? 0, checkin: faultsOf(useCheckIn(character).data?.checks) }
}
