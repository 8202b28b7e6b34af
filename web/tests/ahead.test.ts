import { expect, it, vi } from 'vitest'
import { askAhead, meshesOf } from '../src/api/ahead'

const asked: string[] = []
vi.mock('../src/api/client', () => ({ fetchCharacter: (id: number) => Promise.resolve({ id, meshes: 'now', revision: { number: 4 } }) }))
vi.mock('../src/api/frames', () => ({
  fetchMeshes: (id: number, revision: number) => {
    asked.push(`${id} rev ${revision}`)
    return Promise.resolve([])
  },
}))

it('asks once for the meshes a page begins with, and anew for others and when they are wanted again', async () => {
  await askAhead(1)
  expect(asked).toEqual(['1 rev 4'])
  await meshesOf(1, 'now', 4)
  expect(asked).toEqual(['1 rev 4'])
  await meshesOf(1, 'now', 4)
  await meshesOf(1, 'other', 5)
  expect(asked).toEqual(['1 rev 4', '1 rev 4', '1 rev 5'])
})
