import { create } from 'zustand'

interface Receiver {
  /** The name of a profile that ships, or of the file of an own one. */
  profile: string
  /** An own profile, as the text of its file. */
  own: string | null
  choose: (profile: string, own?: string) => void
}

/** Whose limits the rig is held against, for as long as the page is open. */
export const useReceiver = create<Receiver>((set) => ({
  profile: 'lean',
  own: null,
  choose: (profile, own) => set({ profile, own: own ?? null }),
}))
