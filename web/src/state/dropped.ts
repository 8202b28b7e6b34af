import { create } from 'zustand'
import type { Delivered } from '../api/imports'

interface Dropped {
  /** Heads, each of some files, in the order in which they were let go. */
  waiting: Delivered[][]
  add: (files: Delivered[]) => void
  /** They are all seen to. */
  clear: () => void
}

/** What was let go somewhere on the page and waits for the shelf to take it in. */
export const useDropped = create<Dropped>((set) => ({
  waiting: [],
  add: (files) => set((s) => ({ waiting: [...s.waiting, files] })),
  clear: () => set({ waiting: [] }),
}))
