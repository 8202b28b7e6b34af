import { expect, it } from 'vitest'
import { changed } from '../src/api/changes'
import type { CharacterOut } from '../src/api/client'

const revision = (number: number, parent: number | null) => ({ number, parent, text: `edit ${number}`, edit: 'bone.rename' })
const bones: CharacterOut['bones'] = []
const head = { id: 1, name: 'Maren', bones, history: [revision(2, 1), revision(1, null)], revision: revision(2, 1), can_redo: false } as unknown as CharacterOut

it('keeps what is not told, as the same object, and puts the new revision first', () => {
  const after = changed(head, { revision: revision(3, 2), name: 'Hob' })!
  expect(after.bones).toBe(bones)
  expect([after.name, after.history.map((r) => r.number)]).toEqual(['Hob', [3, 2, 1]])
})

it('knows an earlier revision that it comes back to', () => {
  const after = changed(head, { revision: revision(1, null), can_redo: true })!
  expect([after.revision.number, after.can_redo]).toEqual([1, true])
  expect(after.history).toBe(head.history)
})

it('does not make up what others did meanwhile', () => {
  expect(changed(head, { revision: revision(5, 2) })).toBeNull()
})
