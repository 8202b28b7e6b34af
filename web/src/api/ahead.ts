import { fetchCharacter, type CharacterOut } from './client'
import { fetchMeshes, type MeshPart } from './frames'

const asked = new Map<string, Promise<MeshPart[]>>()

/** A character that the page begins with, and its meshes: asked for while what draws them is still on its way. */
export async function askAhead(id: number): Promise<CharacterOut> {
  const character = await fetchCharacter(id)
  const meshes = fetchMeshes(id, character.revision.number)
  meshes.catch(() => undefined) // it is said where they are wanted
  asked.set(`${id} ${character.meshes}`, meshes)
  return character
}

/** The meshes of a revision, known by their `digest`; those that were asked for ahead are taken once. */
export function meshesOf(id: number, digest: string, revision: number): Promise<MeshPart[]> {
  const key = `${id} ${digest}`
  const ahead = asked.get(key)
  asked.delete(key)
  return ahead ?? fetchMeshes(id, revision)
}
