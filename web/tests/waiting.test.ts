import { expect, test } from 'vitest'
import { saidOf, together, unasked, type Waiting } from '../src/state/waiting'

const fine: Waiting = { count: 0, known: 'measured' }
const two: Waiting = { count: 2, known: 'measured' }
const old: Waiting = { count: 1, known: 'stale' }

test('what waits in all is known as well as what is known least', () => {
  expect(together(fine, two)).toEqual({ count: 2, known: 'measured' })
  expect(together(two, old)).toEqual({ count: 3, known: 'stale' })
  expect(together(two, old, unasked)).toEqual({ count: 3, known: 'not yet' })
  expect(together()).toEqual(unasked)
})

test('nothing is called fine that was not measured', () => {
  const said = (['measured', 'stale', 'not yet'] as const).flatMap((known) => [0, 1, 2].map((count) => saidOf({ count, known })))
  expect(said.filter((text) => text.startsWith('No '))).toEqual([saidOf(fine)])
  expect(saidOf(fine)).toBe('No findings')
  expect(saidOf(unasked)).toBe('Not measured yet')
  expect(saidOf(old)).toBe('1 finding, not measured since the last change')
  expect(saidOf({ count: 2, known: 'not yet' }, 'faults')).toBe('2 faults, not all is measured yet')
})
