import type { QueryClient } from '@tanstack/react-query'
import { fetchCharacter } from './client'
import { fetchMeshes, type MeshPart } from './frames'

const asked = new Map<string, Promise<MeshPart[]>>()

/** A character that the page begins with, and its meshes: asked for while what draws them is still on its way. */
export async function askAhead(queries: QueryClient, id: number) {
  await queries.prefetchQuery({ queryKey: ['character', id], queryFn: () => fetchCharacter(id) })
  const found = queries.getQueryData<Awaited<ReturnType<typeof fetchCharacter>>>(['character', id])
  if (!found) return // it will be said where it is asked for again
  const meshes = fetchMeshes(id, found.revision.number)
  meshes.catch(() => undefined) // likewise
  asked.set(`${id} ${found.meshes}`, meshes)
}

/** The meshes of a revision, known by their `digest`; those that were asked for ahead are taken once. */
export function meshesOf(id: number, digest: string, revision: number): Promise<MeshPart[]> {
  const key = `${id} ${digest}`
  const ahead = asked.get(key)
  asked.delete(key)
  return ahead ?? fetchMeshes(id, revision)
}
