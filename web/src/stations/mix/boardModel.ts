import type { BoardEnd, BoardFinding, MixChange, MixReport } from '../../api/client'

/** A row and a column of the board: an end of a control, or a whole region that is folded into one. */
export interface Line {
  key: string
  label: string
  region: string
  ends: BoardEnd[]
}

export type CellState = 'over' | 'meant' | 'within' | 'apart' | 'asleep' | 'same'

export interface BoardCell {
  state: CellState
  /** The numbers of the findings, the worst first, those that are intended last. */
  findings: number[]
  /** What has become of it since another revision; null where nothing has, or nobody asks. */
  since: MixChange['how'] | null
}

export interface Shown {
  /** Regions that are folded into one line each. */
  folded: ReadonlySet<string>
  /** Without the lines on which nothing is wrong. */
  wrongOnly: boolean
  /** What is looked for: a kind of finding, a seam, or all. */
  filter: string | null
  /** What has changed since another revision, if that is asked for. */
  changes?: MixChange[] | null
}

export interface BoardModel {
  lines: Line[]
  cell: (row: number, column: number) => BoardCell
}

export const REGIONS: Record<string, string> = { brows: 'Brows', eyes: 'Eyes', mouth: 'Mouth', jaw: 'Jaw', tongue: 'Tongue', head: 'Head', other: 'Other' }

/** What findings can be told apart by: their kind, and the seam they are of. */
export const passes = (f: BoardFinding, filter: string | null) => filter === null || f.kind === filter || f.about === filter

const pairKey = (a: string, b: string) => (a < b ? `${a} ${b}` : `${b} ${a}`)

/** The pairs of ends that a finding stands in: its own, or itself where it is one alone. */
const pairsOf = (f: BoardFinding) => f.ends.flatMap((a, i) => (f.ends.length === 1 ? [a] : f.ends.slice(i + 1)).map((b) => pairKey(a, b)))

const HOWS = ['new', 'worse', 'better', 'gone'] as const // the one that a cell is told by comes first

/** Controls against controls, region by region; in each cell what is wrong where both take part, a third with them or not. */
export function boardOf(report: MixReport, { folded, wrongOnly, filter, changes }: Shown): BoardModel {
  const found = new Map<string, number[]>()
  report.findings.forEach((f, k) => {
    if (passes(f, filter)) for (const key of pairsOf(f)) found.set(key, [...(found.get(key) ?? []), k])
  })
  const since = new Map<string, MixChange['how'][]>()
  for (const { how, finding } of changes ?? [])
    if (passes(finding, filter)) for (const key of pairsOf(finding)) since.set(key, [...(since.get(key) ?? []), how])
  const wrong = new Set([...found.keys(), ...since.keys()].flatMap((key) => key.split(' ')))
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
    const hows = pairs.flatMap(([a, b]) => since.get(pairKey(a.name, b.name)) ?? [])
    const how = HOWS.find((h) => hows.includes(h)) ?? null
    const meant = (k: number) => report.findings[k]!.intended != null
    if (findings.length) {
      const sorted = [...findings.filter((k) => !meant(k)), ...findings.filter(meant)]
      return { state: meant(sorted[0]!) ? 'meant' : 'over', findings: sorted, since: how }
    }
    const states = pairs.map(([a, b]) => stateOf(a, b))
    const first = (['within', 'apart', 'asleep', 'same'] as const).find((s) => states.includes(s))
    return { state: first ?? 'same', findings, since: how }
  }
  return { lines, cell }
}

/** What a cell is, in words. */
export function cellSaid(model: BoardModel, report: MixReport, row: number, column: number): string {
  const [a, b] = [model.lines[row]!, model.lines[column]!]
  const who = row === column && a.ends.length === 1 ? `${a.label} alone` : `${a.label} × ${b.label}`
  const { state, findings } = model.cell(row, column)
  if (state === 'over' || state === 'meant') {
    const worst = report.findings[findings[0]!]!
    const more = findings.length > 1 ? ` And ${findings.length - 1} more.` : ''
    return `${who}: ${state === 'meant' ? 'intended: ' : ''}${worst.title} ${worst.moment}, ${worst.text}${more}`
  }
  const apart = report.apart.find(({ ends }) => pairKey(ends[0]!, ends[1]!) === pairKey(a.ends[0]!.name, b.ends[0]!.name))
  if (state === 'apart' && apart) return `${who}: not swept together, ${apart.said}`
  if (state === 'asleep') return `${who}: not measured, nothing here wakes it`
  return state === 'same' ? `${who}: two ends of one control` : `${who}: within`
}
