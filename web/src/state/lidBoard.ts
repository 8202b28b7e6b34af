import { useQuery } from '@tanstack/react-query'
import { fetchLidBoard, fetchLidCut, fetchLidDrivers, type CharacterOut, type CurveKey, type EyeLids, type GazeFollow } from '../api/client'
import { shownValues } from './bench'
import { resting } from './resting'
import { useNewest } from './useNewest'

type Side = EyeLids['side']

/** A closed line or a gaze follow that is being drawn. */
export interface Tried {
  line: { side: Side; keys: CurveKey[]; mirror: boolean } | null
  follow: { side: Side; lid: 'upper' | 'lower'; follow: GazeFollow; mirror: boolean } | null
}

/** Every closing of the lids against every gaze, with what is being drawn where there is something; exactly once the hand rests. `late` while it is still that of another revision or drawing. */
export function useLidBoard(character: CharacterOut, { line, follow }: Tried) {
  const { id, revision } = character
  const moving = line !== null || follow !== null
  const quick = useNewest(`${id}`, [revision.number, line, follow], () => fetchLidBoard(id, revision.number, line, follow, false))
  const exact = useQuery({
    queryKey: ['exact lid board', id, revision.number],
    queryFn: ({ signal }) => resting(signal).then(() => fetchLidBoard(id, revision.number, null, null, true)),
    enabled: !moving && quick.data !== undefined && !quick.late,
    retry: false,
    gcTime: 10_000,
  })
  const measured = !moving && exact.data !== undefined
  return { data: measured ? exact.data : quick.data, exact: measured, late: !measured && quick.late, error: quick.error, isFetching: quick.late || exact.isFetching }
}

/** A flat cut through the lids of an eye as it is posed now. */
export function useLidCut(character: CharacterOut, side: Side, place: number, enabled: boolean) {
  const { id, revision } = character
  return useNewest(`${id} ${side}`, [revision.number, place], (values) => fetchLidCut(id, revision.number, side, place, values), enabled, shownValues)
}

/** How far an eye's lids would be from the arc by each other way of closing them. */
export function useLidDrivers(character: CharacterOut, side: Side) {
  const { id, revision } = character
  return useQuery({
    queryKey: ['lid drivers', id, revision.number, side],
    queryFn: ({ signal }) => resting(signal).then(() => fetchLidDrivers(id, revision.number, side, signal)),
    placeholderData: (before) => before,
    retry: false,
  })
}
