import { useQuery } from '@tanstack/react-query'
import { fetchLeft, fetchNameLists, fetchNames, fetchShapes, type CharacterOut, type ChosenList } from '../api/client'
import { resting } from './resting'

/** All shapes in a row each, and the order of deformation. */
export function useShapes(character: CharacterOut) {
  const { id, revision } = character
  return useQuery({ queryKey: ['shapes', id, revision.number], queryFn: () => fetchShapes(id, revision.number), placeholderData: (before) => before, retry: false })
}

export const useNameLists = () => useQuery({ queryKey: ['name lists'], queryFn: fetchNameLists, staleTime: Infinity })

/** How our names stand to a list; nothing until one is chosen. */
export function useNames(character: CharacterOut, list: ChosenList | null) {
  const { id, revision } = character
  return useQuery({
    queryKey: ['names', id, revision.number, list],
    queryFn: () => fetchNames(id, revision.number, list!),
    enabled: list !== null,
    placeholderData: (before) => (list ? before : undefined),
    retry: false,
  })
}

/** What would be left of taking the pose on the stage out of a shape. */
export function useLeft(character: CharacterOut, shape: string | null, values: Record<string, number>) {
  const { id, revision } = character
  return useQuery({
    queryKey: ['left', id, revision.number, shape, values],
    queryFn: ({ signal }) => resting(signal).then(() => fetchLeft(id, revision.number, shape!, values)),
    enabled: shape !== null && Object.values(values).some(Boolean),
    retry: false,
    gcTime: 5_000,
  })
}
