import { useQuery } from '@tanstack/react-query'
import { fetchLandmarks, type CharacterOut, type Mark } from '../api/client'

/** Landmarks of the character at the head of its history. The last answer stays in sight until the next is there. */
export function useLandmarks(character: CharacterOut, wanted = true) {
  const { id, revision } = character
  return useQuery({
    queryKey: ['landmarks', id, revision.number],
    queryFn: () => fetchLandmarks(id, revision.number),
    placeholderData: (before) => before,
    enabled: wanted,
    retry: false,
  })
}

export type MarkState = 'decided' | 'suggested' | 'doubtful' | 'missing'

export function stateOf(mark: Mark, doubtful: number): MarkState {
  if (!mark.placed) return 'missing'
  if (mark.placed.sure >= 1) return 'decided'
  return mark.placed.sure < doubtful ? 'doubtful' : 'suggested'
}
