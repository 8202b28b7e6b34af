import { describe, expect, it } from 'vitest'
import { added, deletable, moved, planeOf, sloped } from '../src/ui/curve/plane'

const plane = planeOf({ width: 200, height: 100 }, 10, [0, 1], [-1, 1], 0.05)
const keys = [0, 0.5, 1].map((at) => ({ at, value: at, slope: null }))

describe('the plane of a curve', () => {
  it('gives back the place of its own pixels', () => {
    for (const [at, value] of [[0, -1], [0.3, 0.2], [1, 1]] as const) {
      const [a, v] = plane.place(...plane.pixel(at, value))
      expect(a).toBeCloseTo(at, 12)
      expect(v).toBeCloseTo(value, 12)
    }
  })

  it('has higher values higher up and later places farther right', () => {
    expect(plane.pixel(0, 1)).toEqual([10, 10])
    expect(plane.pixel(1, -1)).toEqual([190, 90])
  })
})

describe('keys', () => {
  it('are moved as far as their neighbours and the range let them', () => {
    expect(moved(keys, 1, { at: 0.9999, value: 7 }, plane)[1]).toMatchObject({ at: 0.95, value: 1 })
    expect(moved(keys, 1, { at: -3, value: -7 }, plane)[1]).toMatchObject({ at: 0.05, value: -1 })
    expect(moved(keys, 1, { at: 0.6, value: 0 }, plane)[0]).toBe(keys[0])
  })

  it('at the ends stay where they must', () => {
    const held = { ...plane, endsStay: true }
    expect(moved(keys, 0, { at: 0.3, value: 0.4 }, held)[0]).toMatchObject({ at: 0, value: 0.4 })
    expect(moved(keys, 0, { at: 0.3, value: 0.4 }, plane)[0]).toMatchObject({ at: 0.3 })
    expect([0, 1, 2].map((k) => deletable(keys, k, held))).toEqual([false, true, false])
    expect(deletable(keys.slice(0, 1), 0, plane)).toBe(false)
  })

  it('are added in order, and not on top of one another', () => {
    expect(added(keys, 0.25, 3, plane)!.map((k) => k.at)).toEqual([0, 0.25, 0.5, 1])
    expect(added(keys, 0.25, 3, plane)![1]).toMatchObject({ value: 1, slope: null })
    expect(added(keys, 0.52, 0, plane)).toBeNull()
  })

  it('take a slope of their own and give it back', () => {
    expect(sloped(sloped(keys, 1, 2), 1, null)).toEqual(keys)
    expect(sloped(keys, 1, 2)[1]!.slope).toBe(2)
  })
})
