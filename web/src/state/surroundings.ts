import { create } from 'zustand'

const KEY = 'tight-seam.surroundings'

type Surroundings = 'light' | 'dark'

const show = (surroundings: Surroundings) => {
  document.documentElement.dataset.surroundings = surroundings
  return surroundings
}

interface Store {
  surroundings: Surroundings
  turn: () => void
}

/** Is the room round the stage light or dark? Kept in this browser. */
export const useSurroundings = create<Store>((set, get) => ({
  surroundings: show(window.localStorage.getItem(KEY) === 'dark' ? 'dark' : 'light'),
  turn: () => {
    const surroundings = get().surroundings === 'dark' ? 'light' : 'dark'
    window.localStorage.setItem(KEY, surroundings)
    set({ surroundings: show(surroundings) })
  },
}))
