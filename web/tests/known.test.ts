import { expect, it } from 'vitest'
import type { CharacterOut } from '../src/api/client'
import { knownTo } from '../src/state/known'

const character = { controls: [{ name: 'jaw_open' }], shapes: [{ name: 'smile.L' }], bones: [{ name: 'jaw' }] } as unknown as CharacterOut

it('leaves out what the character does not have, and nothing else', () => {
  const all = { jaw_open: 1, 'smile.L.strength': 0.5, 'jaw.turn_x': 4 }
  expect(knownTo(character, all)).toBe(all)
  expect(knownTo(character, { ...all, 'puff.strength': 1, 'wing.move_y': 2, gone: 1 })).toEqual(all)
  expect(knownTo(null, { gone: 1 })).toEqual({ gone: 1 })
})
