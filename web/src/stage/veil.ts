import type { PartOut } from '../api/client'

type Kind = PartOut['kind']

const OUTER: Kind[] = ['hair', 'whiskers', 'cloth']
const INNER: Kind[] = ['eye', 'teeth upper', 'teeth lower', 'tongue']

/** Is a part of that kind one that glass is made of? */
export const ofGlass = (kind: Kind) => kind === 'skin' || OUTER.includes(kind)

/** Does a part of that kind hide parts of the kinds that are spoken of? Hair lies before skin, skin before eyes and teeth. */
export function veils(kind: Kind, spokenOf: Kind[]): boolean {
  if (!spokenOf.length) return false
  return OUTER.includes(kind) || (kind === 'skin' && spokenOf.some((k) => INNER.includes(k)))
}
