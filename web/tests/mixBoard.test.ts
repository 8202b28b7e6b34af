import { expect, test } from 'vitest'
import type { BoardEnd, BoardFinding, MixReport } from '../src/api/client'
import { boardOf, cellSaid } from '../src/stations/mix/boardModel'

const end = (name: string, region: BoardEnd['region'], more: Partial<BoardEnd> = {}): BoardEnd => ({ name, label: name.toUpperCase(), control: name.replace(/[+-]$/, ''), value: 1, rest: 0, region, way: name.endsWith('-') ? 'low' : 'high', base: null, image: null, asleep: false, ...more })

const finding = (ends: string[], size: number, more: Partial<BoardFinding> = {}): BoardFinding => ({
  ends, size, strengths: ends.map(() => 1), kind: 'clash', about: 'lips', place: 'Lip', title: 'Lips overlap', text: `${size} mm`, moment: `in ${ends.join(' × ')}`, unit: 'mm', limit: 0.1, alone: [], part: 'skin', vertex: 0, vertices: [0], values: {}, place_at_rest: [0, 0, 0], intended: null, ...more,
})

const report: MixReport = {
  ends: [end('jaw', 'jaw'), end('side+', 'jaw'), end('side-', 'jaw'), end('smile', 'mouth'), end('blink', 'eyes'), end('curl', 'tongue', { asleep: true })],
  alone: 18, pairs: 8, triples: 1,
  findings: [finding(['jaw', 'side+', 'smile'], 3), finding(['jaw', 'smile'], 2, { kind: 'flip', about: 'skin' }), finding(['blink'], 1)],
  causes: [],
  apart: [{ ends: ['side+', 'smile'], why: 'alike', cosine: 0.95, said: 'they do the same' }],
  not_measured: [],
  at_rest: [],
  bases: {},
}
const all = { folded: new Set<string>(), wrongOnly: false, filter: null }
const at = (model: ReturnType<typeof boardOf>, a: string, b: string) => {
  const [i, j] = [a, b].map((key) => model.lines.findIndex((l) => l.key === key)).sort((x, y) => y - x) as [number, number]
  return [i, j] as const
}

test('a cell has what is wrong where both take part, with a third too, the worst first', () => {
  const model = boardOf(report, all)
  expect(model.cell(...at(model, 'jaw', 'smile')).findings).toEqual([0, 1])
  expect(model.cell(...at(model, 'jaw', 'side+')).findings).toEqual([0])
  expect(model.cell(...at(model, 'blink', 'blink')).findings).toEqual([2])
})

test('what is not swept together, or not at all, is told apart from what is within', () => {
  const model = boardOf({ ...report, findings: [] }, all)
  const state = (a: string, b: string) => model.cell(...at(model, a, b)).state
  expect(state('jaw', 'blink')).toBe('within')
  expect(state('side+', 'smile')).toBe('apart')
  expect(state('side+', 'side-')).toBe('same')
  expect(state('curl', 'jaw')).toBe('asleep')
  expect(cellSaid(model, report, ...at(model, 'curl', 'jaw'))).toContain('not measured')
  expect(cellSaid(model, report, ...at(model, 'side+', 'smile'))).toContain('they do the same')
})

test('a folded region is one line that has all that is wrong in it', () => {
  const model = boardOf(report, { ...all, folded: new Set(['jaw']) })
  expect(model.lines.map((l) => l.key)).toEqual(['blink', 'smile', 'jaw', 'curl'])
  expect(model.cell(...at(model, 'jaw', 'smile')).findings).toEqual([0, 1])
})

test('only what is wrong, and only of a kind', () => {
  expect(boardOf(report, { ...all, wrongOnly: true }).lines.map((l) => l.key)).toEqual(['blink', 'smile', 'jaw', 'side+'])
  const flips = boardOf(report, { ...all, wrongOnly: true, filter: 'flip' })
  expect(flips.lines.map((l) => l.key)).toEqual(['smile', 'jaw'])
})
