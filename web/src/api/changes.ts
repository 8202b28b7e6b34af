import type { Schemas } from './http'

type CharacterOut = Schemas['CharacterOut']
type Told = Schemas['CharacterChange']

/**
 * A character after a change, by what the server tells of it: what that leaves out is as it was, and stays the same object, so that nothing
 * that shows it draws itself anew. Null where the page does not know all revisions: others have undone theirs meanwhile.
 */
export function changed(head: CharacterOut, told: Told): CharacterOut | null {
  const { revision } = told
  const newest = head.history[0]?.number ?? 0
  if (!revision || revision.number > newest + 1) return null
  return { ...head, ...told, history: revision.number > newest ? [revision, ...head.history] : head.history }
}
