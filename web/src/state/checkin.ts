import { useQuery } from '@tanstack/react-query'
import { fetchCheckIn, type Check, type CharacterOut } from '../api/client'
import { useBench } from './bench'

/** The checks of the character at the head of its history. The last report stays in sight until the next is there. */
export function useCheckIn(character: CharacterOut) {
  const { id, revision } = character
  return useQuery({
    queryKey: ['checkin', id, revision.number],
    queryFn: ({ signal }) => fetchCheckIn(id, revision.number, signal),
    placeholderData: (before) => before,
    retry: false,
  })
}

/** The check that is open at Check-in, with the comparison with a second file among them. */
export function useOpenCheck(character: CharacterOut): Check | null {
  const { data } = useCheckIn(character)
  const key = useBench((s) => s.check)
  const twin = useBench((s) => s.twin)
  if (!key) return null
  return (twin?.key === key ? twin : data?.checks.find((c) => c.key === key)) ?? null
}

/** Faults that nobody waived. */
export const faultsOf = (checks: Check[] | undefined) => (checks ?? []).filter((c) => c.verdict === 'fault' && c.waived == null).length
