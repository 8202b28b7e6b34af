import { fetchPull, type CharacterOut } from '../api/client'
import { shownValues, useBench } from './bench'
import type { Patch } from './work/patch'
import { useNewest } from './useNewest'

/** What is asked about: the selection where several vertices are worked on, else the vertex that was clicked. */
export function useAsked(): Patch | null {
  const pick = useBench((s) => s.pick)
  const selection = useBench((s) => s.selection)
  if (selection && selection.vertices.length > 1) return selection
  return pick ? { part: pick.part, vertices: [pick.vertex] } : selection
}

/** What moves some vertices in the pose that is shown. The last answer about the same ones stays in sight until the next is there. */
export function usePull(character: CharacterOut, asked: Patch | null) {
  const revision = character.revision.number
  const about = `${character.id} ${asked?.part} ${asked?.vertices.length}`
  return useNewest(about, [revision, asked?.vertices], (values) => fetchPull(character.id, revision, asked!.part, asked!.vertices, values), asked !== null, shownValues)
}
