import { useQuery } from '@tanstack/react-query'
import { create } from 'zustand'
import { fetchOffences, type CharacterOut } from '../api/client'

interface Receiver {
  /** The name of a profile that ships, or of the file of an own one. */
  profile: string
  /** An own profile, as the text of its file. */
  own: string | null
  /** Has somebody looked at what offends it? From then on it is told beside all other work. */
  asked: boolean
  ask: () => void
  choose: (profile: string, own?: string) => void
}

/** Whose limits the rig is held against, for as long as the page is open. */
export const useReceiver = create<Receiver>((set) => ({
  profile: 'lean',
  own: null,
  asked: false,
  ask: () => set({ asked: true }),
  choose: (profile, own) => set({ profile, own: own ?? null }),
}))

/** What of a revision offends its receiver, once that was asked. */
export function useOffences({ id, revision }: CharacterOut) {
  const { profile, own, asked } = useReceiver()
  return useQuery({
    queryKey: ['offences', id, revision.number, profile, own],
    queryFn: () => fetchOffences(id, revision.number, profile, own),
    enabled: asked,
    placeholderData: (before, query) => (query?.queryKey[3] === profile && query.queryKey[4] === own ? before : undefined),
    staleTime: Infinity, // a revision stays what it is
    retry: false,
  })
}
