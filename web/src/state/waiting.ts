/** How much waits at a station, and whether that is of the state on the bench, of one before it, or was never looked for. */
export interface Waiting {
  count: number
  known: 'measured' | 'stale' | 'not yet'
}

export const unasked: Waiting = { count: 0, known: 'not yet' }

const LEAST = ['not yet', 'stale', 'measured'] as const

/** What waits in all: it is known as well as what of it is known least. */
export const together = (...parts: Waiting[]): Waiting => ({
  count: parts.reduce((sum, part) => sum + part.count, 0),
  known: LEAST.find((known) => parts.some((part) => part.known === known)) ?? 'not yet',
})

/** What is said of it; that there is none only of what was looked at as it is now. */
export function saidOf({ count, known }: Waiting, what = count === 1 ? 'finding' : 'findings'): string {
  const found = count ? `${count} ${what}` : known === 'measured' ? `No ${what}` : ''
  const how = known === 'measured' ? '' : known === 'stale' ? 'not measured since the last change' : count ? 'not all is measured yet' : 'not measured yet'
  const said = [found, how].filter(Boolean).join(', ')
  return said.charAt(0).toUpperCase() + said.slice(1)
}
