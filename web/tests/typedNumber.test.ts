import { describe, expect, it } from 'vitest'
import { parseTyped, shown } from '../src/ui/typedNumber'

describe('a typed number', () => {
  it.each([
    ['0.4', '', 0.4],
    ['40 %', '', 0.4],
    ['40%', '%', 40],
    ['-12,5', '°', -12.5],
    ['30 deg', '°', 30],
    ['0.1 cm', 'mm', 1],
    [' 12 mm ', 'cm', 1.2],
    ['1 m', 'mm', 1000],
  ])('%s in a field of “%s” is %d', (text, unit, value) => expect(parseTyped(text, unit)).toBeCloseTo(value, 12))

  it.each([['', ''], ['lots', 'mm'], ['4 bananas', 'mm'], ['1e3', ''], ['--2', ''], ['3 mm', '°'], ['40 %', 'mm'], ['NaN', '']])('%s is none in a field of “%s”', (text, unit) =>
    expect(parseTyped(text, unit)).toBeNull(),
  )

  it.each([['', 0.25], ['°', -12.5], ['mm', 1.125], ['%', 40], ['rows', 4]])('shown with its unit “%s” it is read back as the same', (unit, value) =>
    expect(parseTyped(shown(value, unit), unit)).toBeCloseTo(value, 3),
  )
})
