import { useCallback, useState } from 'react'

const KEY = 'tight-seam.layout'
const LARGE = 1600 // px of window from which there is room for more

/** Sizes of the panels round the stage, px. */
interface Layout {
  left: number
  right: number
  dock: number
}

function starting(): Layout {
  const { innerWidth: wide, innerHeight: tall } = window
  if (wide >= LARGE) return { left: 270, right: 420, dock: Math.min(220, Math.round(tall * 0.2)) }
  return wide < 1150 ? { left: 206, right: 308, dock: 156 } : { left: 236, right: 336, dock: 160 }
}

/** What was kept the last time, where it is anything that can be used. */
function kept(): Partial<Layout> {
  try {
    const found = JSON.parse(window.localStorage.getItem(KEY) ?? '{}') as Record<string, unknown>
    return Object.fromEntries(Object.entries(found).filter(([, size]) => typeof size === 'number' && size >= 0 && size < 2000))
  } catch {
    return {}
  }
}

/** The sizes that panels start with, and what keeps those they are given. */
export function useLayout(): Layout & { sized: (changed: Partial<Layout>) => void } {
  const [layout] = useState(() => ({ ...starting(), ...kept() }))
  const sized = useCallback((changed: Partial<Layout>) => window.localStorage.setItem(KEY, JSON.stringify({ ...kept(), ...changed })), [])
  return { ...layout, sized }
}
