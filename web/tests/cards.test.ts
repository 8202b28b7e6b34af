import { describe, expect, it } from 'vitest'
import type { Finding } from '../src/api/client'
import { repairOf, toldByKind } from '../src/stations/findings/cards'

const found = (kind: string, title: string, size: number, edit?: string, limit: number | null = null): Finding =>
  ({ kind, title, about: title, text: '', size, unit: 'mm', limit, repairs: edit ? [{ text: edit, edit, params: { of: title } }] : [] }) as unknown as Finding

describe('findings as cards', () => {
  it('puts twins on one, the worse first', () => {
    const told = toldByKind([found('short', 'Upper lid L stops short', 0.2, undefined, 0.1), found('short', 'Upper lid R stops short', 0.4, undefined, 0.1)]).flat()
    expect(told).toHaveLength(1)
    expect(told[0]!.findings.map((f) => f.title)).toEqual(['Upper lid R stops short', 'Upper lid L stops short'])
  })

  it('keeps apart what is said twice of one side, and what only sounds alike', () => {
    const same = [found('stray', 'Smile moves stray vertices', 1), found('stray', 'Smile moves stray vertices', 2), found('empty', 'Frown L is empty', 0), found('twin', 'Frown R is empty', 0)]
    expect(toldByKind(same).flat().map((t) => t.findings.length)).toEqual([1, 1, 1, 1])
  })

  it('goes by how many times its limit the worst of a kind is, what has none first', () => {
    const order = (findings: Finding[]) => toldByKind(findings).flat().map((t) => t.findings[0]!.title)
    expect(order([found('a', 'over', 9, undefined, 1), found('b', 'none has a limit', 0), found('c', 'nor has this', 5)])).toEqual(['nor has this', 'none has a limit', 'over'])
    const kinds = toldByKind([found('a', 'one', 1, undefined, 1), found('b', 'two', 0.6, undefined, 0.1), found('a', 'three', 2, undefined, 1)])
    expect(kinds.map((of) => of.map((t) => t.findings[0]!.title))).toEqual([['two'], ['three', 'one']])
  })
})

describe('the repair of findings', () => {
  it('is that of one, several together, one that serves two made once, and none where there is none', () => {
    const [one, two] = [found('a', 'L', 1, 'lids.mend_map'), found('a', 'R', 1, 'lids.mend_map')]
    expect(repairOf([one])).toEqual({ edit: 'lids.mend_map', params: { of: 'L' } })
    expect(repairOf([one, one])).toEqual(repairOf([one]))
    expect(repairOf([one, two])).toEqual({ edit: 'edits.together', params: { steps: [one, two].map((f) => ({ edit: 'lids.mend_map', params: { of: f.title } })) } })
    expect(repairOf([found('a', 'x', 1)])).toBeNull()
  })
})
