import { useQuery } from '@tanstack/react-query'
import { fetchBaked, fetchJaw, fetchJawCurves, fetchJawCut, fetchNeck, fetchReliefNeeds, type CharacterOut } from '../api/client'
import { shownValues } from './bench'
import { resting } from './resting'
import { useNewest } from './useNewest'

/** How the jaw moves, reliefs and lips. */
export function useJaw(character: CharacterOut) {
  const { id, revision } = character
  return useQuery({ queryKey: ['jaw', id, revision.number], queryFn: () => fetchJaw(id, revision.number), placeholderData: (before) => before, retry: false })
}

/** Reliefs that the posed head asks for. */
export function useReliefNeeds(character: CharacterOut) {
  const { id, revision } = character
  return useQuery({ queryKey: ['relief needs', id, revision.number], queryFn: () => fetchReliefNeeds(id, revision.number), placeholderData: (before) => before, retry: false })
}

/** Values of controls without the one that opens the jaw: what acts beside the opening. */
const besideOf = (values: Record<string, number>, opens: string | null | undefined) => Object.fromEntries(Object.entries(values).filter(([name]) => name !== opens))

/** What the lower face does over the opening, with what else the controls say. */
export function useJawCurves(character: CharacterOut, opens: string | null | undefined) {
  const { id, revision } = character
  return useNewest(`${id}`, [revision.number, opens], (values: Record<string, number>) => fetchJawCurves(id, revision.number, values), opens !== undefined, (s) => besideOf(shownValues(s), opens))
}

/** The outline of the cheeks, or of the middle of the face, as it is posed now. */
export function useJawCut(character: CharacterOut, cut: 'cheeks' | 'middle', place: number, enabled = true, values?: Record<string, number>) {
  const { id, revision } = character
  return useNewest(`${id} ${cut}`, [revision.number, place, values], (now) => fetchJawCut(id, revision.number, cut, place, now), enabled, values ? () => values : shownValues)
}

/** How hard the head stays above a line. */
export function useNeck(character: CharacterOut, line: number | null) {
  const { id, revision } = character
  return useNewest(`${id}`, [revision.number, line], () => fetchNeck(id, revision.number, line))
}

/** How far off shapes are that stand in for reliefs and lips. */
export function useBaked(character: CharacterOut) {
  const { id, revision } = character
  return useQuery({
    queryKey: ['baked', id, revision.number],
    queryFn: ({ signal }) => resting(signal).then(() => fetchBaked(id, revision.number, signal)),
    placeholderData: (before) => before,
    retry: false,
  })
}
