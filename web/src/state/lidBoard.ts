import { useQuery } from '@tanstack/react-query'
import { fetchLidBoard, type CharacterOut, type CurveKey } from '../api/client'

export interface TriedLine {
  side: 'L' | 'R' | 'C'
  keys: CurveKey[]
  mirror: boolean
}

/** Every closing of the lids against every gaze, with the line that is being drawn where there is one. */
export function useLidBoard(character: CharacterOut, line: TriedLine | null) {
  const { id, revision } = character
  return useQuery({
    queryKey: ['lid board', id, revision.number, line],
    queryFn: () => fetchLidBoard(id, revision.number, line),
    placeholderData: (before) => before,
    retry: false,
    gcTime: 10_000,
  })
}
