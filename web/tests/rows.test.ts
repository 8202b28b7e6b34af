import { describe, expect, it } from 'vitest'
import { chosenAfter, filtered, grouped, renamed, rowsOf, sorted, type Row } from '../src/stations/shapes/sheet/rows'

const row = (name: string, more: Partial<Row> = {}): Row =>
  ({ name, label: name, twin: null, side: 'C', parts: { skin: 1 }, driven_by: [], size: 1, checks: [], named: null, ...more }) as unknown as Row

const rows = [row('smile_L', { side: 'L', size: 9 }), row('frown', { size: 3, driven_by: ['corner'] }), row('smile_10'), row('smile_2')]
const names = (found: Row[]) => found.map((r) => r.name)

describe('the rows of the sheet', () => {
  it('are filtered by every word, wherever it stands', () => {
    expect(names(filtered(rows, 'SMILE _L'))).toEqual(['smile_L'])
    expect(names(filtered(rows, 'corner'))).toEqual(['frown'])
    expect(filtered(rows, '  ')).toBe(rows)
  })

  it('are sorted by number where names have one, and by size the largest first', () => {
    expect(names(sorted(rows, 'name'))).toEqual(['frown', 'smile_2', 'smile_10', 'smile_L'])
    expect(names(sorted(rows, 'size')).slice(0, 2)).toEqual(['smile_L', 'frown'])
    expect(sorted(rows, 'list')).toBe(rows)
  })

  it('are all there however they are grouped', () => {
    for (const by of ['none', 'side', 'part', 'check'] as const) expect(grouped(rows, by).flatMap((g) => names(g.rows)).sort()).toEqual(names(rows).sort())
    expect(grouped(rows, 'side').map((g) => g.title)).toEqual(['Both sides', 'Left'])
  })

  it('say how they stand to a list of names', () => {
    const list = { same: ['frown'], near: [['smile_L', 'smileLeft']] } as never
    const labels = new Map([['blink', 'Blink']])
    expect(rowsOf(rows, [], list, labels).map((r) => r.named)).toEqual(['near', 'same', 'extra', 'extra'])
    expect(rowsOf(rows, [], undefined, labels).map((r) => r.named)).toEqual([null, null, null, null])
  })
})

describe('names of shapes', () => {
  it('are renamed where the text stands, and left out where nothing changes or nothing is left', () => {
    expect(renamed(['a_smile', 'b', 'smile'], 'smile', 'grin')).toEqual({ a_smile: 'a_grin', smile: 'grin' })
    expect(renamed(['smile'], 'smile', '')).toEqual({})
    expect(renamed(['smile'], '', 'x')).toEqual({})
  })

  it('are chosen alone, also, and up to another', () => {
    const shown = ['a', 'b', 'c', 'd']
    expect(chosenAfter(['a'], shown, 'c', 'only')).toEqual(['c'])
    expect(chosenAfter(['a'], shown, 'c', 'also')).toEqual(['a', 'c'])
    expect(chosenAfter(['a', 'c'], shown, 'c', 'also')).toEqual(['a'])
    expect(chosenAfter(['d'], shown, 'b', 'up to')).toEqual(['c', 'd', 'b'])
  })
})
