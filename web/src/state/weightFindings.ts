import { useQuery } from '@tanstack/react-query'
import { fetchWeightFindings, type CharacterOut } from '../api/client'

/** What is wrong with the weights at the head of the history. The last answer stays in sight until the next is there. */
export function useWeightFindings(character: CharacterOut) {
  const { id, revision } = character
  return useQuery({
    queryKey: ['weight findings', id, revision.number],
    queryFn: () => fetchWeightFindings(id, revision.number),
    placeholderData: (before) => before,
    enabled: character.bones.length > 0,
    retry: false,
  })
}
