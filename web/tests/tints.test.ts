import { expect, it } from 'vitest'
import { roundTop } from '../src/stage/tints'

it.each([
  [[0.02, 18.1], 20],
  [[5], 5],
  [[0.3], 0.5],
  [[101], 200],
  [[0], 0.1],
])('colours %j up to %d', (values, top) => {
  expect(roundTop({ skin: new Float32Array(values), eye_L: new Float32Array([0]) })).toBeCloseTo(top)
})

it('goes by what differs, and not by one stray vertex nor by all that are alike', () => {
  const skin = new Float32Array(5000)
  skin.fill(0.8, 0, 400)
  skin[4999] = 36
  expect(roundTop({ skin })).toBe(1)
})
