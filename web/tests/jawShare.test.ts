import { describe, expect, it } from 'vitest'
import { fromTheChin, isEven, onBothSides } from '../src/stations/jaw/jawShare'

const key = (at: number, value: number, slope: number | null = null) => ({ at, value, slope })

describe('the share of a relief along the jaw', () => {
  const half = [key(0, 1), key(0.4, 0.5, -2), key(1, 0)]

  it('is the same on both sides when it is drawn from the chin outwards', () => {
    const whole = onBothSides(half)
    expect(whole.map((k) => k.at)).toEqual([-1, -0.4, 0, 0.4, 1])
    expect(whole.map((k) => k.slope)).toEqual([null, 2, null, -2, null])
    expect(isEven(whole)).toBe(true)
    expect(fromTheChin({ keys: whole, path: [] }).keys).toEqual(half)
  })

  it('gets a key at the chin where it has none', () => {
    const { keys, path } = fromTheChin({ keys: [key(-1, 2), key(1, 2)], path: [[-1, 2], [0, 2], [1, 2]] })
    expect(keys).toEqual([key(0, 2), key(1, 2)])
    expect(path).toEqual([[0, 2], [1, 2]])
  })

  it('is told apart where one side differs', () => {
    expect(isEven([key(-1, 0), key(0, 1), key(1, 0.5)])).toBe(false)
  })
})
