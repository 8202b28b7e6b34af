import type { CharacterOut } from '../api/client'

/** The name of a shape's own strength, which is a control like any other. */
export const strengthOf = (shape: string) => `${shape}.strength`

const known = new WeakMap<CharacterOut, Set<string>>()

/** What may be asked of a character: its controls, strengths of its shapes, and channels of its bones by the bone. */
function askable(character: CharacterOut): Set<string> {
  const found = known.get(character) ?? new Set([...character.controls.map((c) => c.name), ...character.shapes.map((s) => strengthOf(s.name)), ...character.bones.map((b) => b.name)])
  known.set(character, found)
  return found
}

/** The values without those of what is not there: not yet, as the strength of a shape that is being made, or no longer, after an undo. */
export function knownTo(character: CharacterOut | null, values: Record<string, number>): Record<string, number> {
  if (!character) return values
  const names = askable(character)
  const there = (name: string) => names.has(name) || names.has(name.slice(0, name.lastIndexOf('.')))
  return Object.keys(values).every(there) ? values : Object.fromEntries(Object.entries(values).filter(([name]) => there(name)))
}
