import type { BoardEnd, BoardFinding, MixReport } from '../../api/client'

/** A row and a column of the board: an end of a control, or a whole region that is folded into one. */
export interface Line {
  key: string
  label: string
  region: string
  ends: BoardEnd[]
}

export type CellState = 'over' | 'within' | 'apart' | 'asleep' | 'same'

export interface BoardCell {
  state: CellState
  /** The numbers of the findings, the worst first. */
  findings: number[]
}

export interface Shown {
  /** Regions that are folded into one line each. */
  folded: ReadonlySet<string>
  /** Without the lines on which nothing is wrong. */
  wrongOnly: boolean
  /** What is looked for: a kind of finding, a seam, or all. */
  filter: string | null
}

export interface BoardModel {
  lines: Line[]
  cell: (row: number, column: number) => BoardCell
}

export const REGIONS: Record<string, string> = { brows: 'Brows', eyes: 'Eyes', mouth: 'Mouth', jaw: 'Jaw', tongue: 'Tongue', head: 'Head', other: 'Other' }

/** What findings can be told apart by: their kind, and the seam they are of. */
export const passes = (f: BoardFinding, filter: string | null) => filter === null || f.kind === filter || f.about === filter

const pairKey = (a: string, b: string) => (a < b ? `${a} ${b}` : `${b} ${a}`)

/** Controls against controls, region by region; in each cell what is wrong where both take part, a third with them or not. */
export function boardOf(report: MixReport, { folded, wrongOnly, filter }: Shown): BoardModel {
  const found = new Map<string, number[]>()
  report.findings.forEach((f, k) => {
    if (!passes(f, filter)) return
    for (const [i, a] of f.ends.entries())
      for (const b of f.ends.length === 1 ? [a] : f.ends.slice(i + 1)) {
        const key = pairKey(a, b)
        found.set(key, [...(found.get(key) ?? []), k])
      }
  })
  const wrong = new Set([...found.keys()].flatMap((key) => key.split(' ')))
  const apart = new Set(report.apart.map(({ ends }) => pairKey(ends[0]!, ends[1]!)))
  const lines = Object.keys(REGIONS).flatMap((region) => {
    const ends = report.ends.filter((e) => e.region === region && (!wrongOnly || wrong.has(e.name)))
    if (!ends.length) return []
    if (folded.has(region)) return [{ key: region, label: REGIONS[region]!, region, ends }]
    return ends.map((e) => ({ key: e.name, label: e.label, region, ends: [e] }))
  })
  const stateOf = (a: BoardEnd, b: BoardEnd): CellState => {
    if (a.asleep || b.asleep) return 'asleep'
    if (a !== b && a.control === b.control) return 'same'
    return apart.has(pairKey(a.name, b.name)) ? 'apart' : 'within'
  }
  const cell = (row: number, column: number): BoardCell => {
    const pairs = lines[row]!.ends.flatMap((a) => lines[column]!.ends.map((b) => [a, b] as const))
    const findings = [...new Set(pairs.flatMap(([a, b]) => found.get(pairKey(a.name, b.name)) ?? []))].sort((x, y) => x - y)
    if (findings.length) return { state: 'over', findings }
    const states = pairs.map(([a, b]) => stateOf(a, b))
    const first = (['within', 'apart', 'asleep', 'same'] as const).find((s) => states.includes(s))
    return { state: first ?? 'same', findings }
  }
  return { lines, cell }
}

/** What a cell is, in words. */
export function cellSaid(model: BoardModel, report: MixReport, row: number, column: number): string {
  const [a, b] = [model.lines[row]!, model.lines[column]!]
  const who = row === column && a.ends.length === 1 ? `${a.label} alone` : `${a.label} × ${b.label}`
  const { state, findings } = model.cell(row, column)
  if (state === 'over') {
    const worst = report.findings[findings[0]!]!
    const more = findings.length > 1 ? ` and ${findings.length - 1} more` : ''
    return `${who}: ${worst.title} ${worst.moment}, ${worst.text}${more}`
  }
  const apart = report.apart.find(({ ends }) => pairKey(ends[0]!, ends[1]!) === pairKey(a.ends[0]!.name, b.ends[0]!.name))
  if (state === 'apart' && apart) return `${who}: not swept together, ${apart.why === 'alike' ? 'they do the same' : 'one undoes the other'}`
  if (state === 'asleep') return `${who}: not measured, nothing here wakes it`
  return state === 'same' ? `${who}: two ends of one control` : `${who}: within`
}
