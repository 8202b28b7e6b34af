import { useQuery } from '@tanstack/react-query'
import { fetchControls, fetchFollowed, fetchTakes, type CharacterOut } from '../api/client'

/** Lines of the face plan, and the curves of links. */
export function useControls(character: CharacterOut) {
  const { id, revision } = character
  return useQuery({ queryKey: ['controls', id, revision.number], queryFn: () => fetchControls(id, revision.number), placeholderData: (before) => before, retry: false })
}

export const useTakes = () => useQuery({ queryKey: ['takes'], queryFn: fetchTakes, staleTime: Infinity })

/** A take as values of controls; nothing until one is chosen. */
export function useFollowed(character: CharacterOut, take: string | null, mapping: Record<string, string | null> | null, smooth: number) {
  const { id, revision } = character
  return useQuery({
    queryKey: ['followed', id, revision.number, take, mapping, smooth],
    queryFn: () => fetchFollowed(id, revision.number, take!, mapping, smooth),
    enabled: take !== null,
    placeholderData: (before) => (take ? before : undefined),
    retry: false,
    gcTime: 20_000,
  })
}
