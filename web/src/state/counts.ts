import { useEffect, useState } from 'react'
import type { CharacterOut, Station } from '../api/client'
import { faultsOf, useCheckIn } from './checkin'
import { useBench } from './bench'
import { useFindings, useStationFindings } from './findings'
import { useOffences } from './receiver'
import { stationOf } from './seams'
import { together, unasked, type Waiting } from './waiting'

const BACKGROUND = 5000 // ms after the last change; what the station at hand asks for comes first

/** How much waits at each station, by its key, and whether that was looked for. What the panels of other stations list is looked for once the hand rests. */
export function useCounts(character: CharacterOut, current: string): Record<string, Waiting> {
  const rests = useRests(`${character.id} ${character.revision.number}`)
  const seams = useSeams(character)
  let turn = rests // one station after the other: what is asked for by hand never waits behind all of them
  const use = (station: Station, here: boolean): Waiting => {
    const { data, isPlaceholderData: stale, isError } = useStationFindings(character, station, here || turn)
    turn &&= isError || (data !== undefined && !stale)
    return data && !isError ? { count: data.length, known: stale ? 'stale' : 'measured' } : unasked
  }
  const bones = use('bones', current === 'landmarks')
  const weights = use('weights', current === 'binding')
  const lids = use('lids', current === 'lids')
  const jaw = use('jaw', current === 'jaw')
  const shapes = use('shapes', current === 'shapes')
  const offences = useOffences(character)
  const checkin = useCheckIn(character)
  return {
    checkin: checkin.data ? { count: faultsOf(checkin.data.checks), known: checkin.isPlaceholderData ? 'stale' : 'measured' } : unasked,
    landmarks: bones,
    binding: together(weights, seams('binding')),
    weights: seams('weights'),
    lids: together(lids, seams('lids')),
    jaw,
    shapes,
    mix: character.mixed === null ? unasked : { count: character.mixed, known: 'measured' },
    handoff: offences.data ? { count: offences.data.length, known: offences.isPlaceholderData ? 'stale' : 'measured' } : unasked,
  }
}

/** How many seams are over their limits in a pose of the strip, by the station that can repair them. */
function useSeams(character: CharacterOut): (station: string) => Waiting {
  const over = useFindings()
  const measured = useBench((s) => s.measured)
  const here = (station: string) => character.seams.filter((s) => stationOf(s) === station)
  return (station) => {
    const own = here(station)
    if (!own.length || !character.poses.length) return unasked
    const count = over.filter((f) => own.some((s) => s.name === f.about)).length
    return { count, known: measured >= character.poses.length ? 'measured' : count ? 'stale' : 'not yet' }
  }
}

/** Is it a while since something was last changed? */
function useRests(what: string): boolean {
  const [rested, setRested] = useState<string | null>(null)
  useEffect(() => {
    const waiting = setTimeout(() => setRested(what), BACKGROUND)
    return () => clearTimeout(waiting)
  }, [what])
  return rested === what
}
