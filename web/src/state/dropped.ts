import { create } from 'zustand'
import type { Delivered } from '../api/imports'

/** Files that were let go somewhere on the page and wait for the shelf to take them in. */
export const useDropped = create<{ waiting: Delivered[]; set: (waiting: Delivered[]) => void }>((set) => ({
  waiting: [],
  set: (waiting) => set({ waiting }),
}))
