import type { Finding, Repair, Step } from '../../api/client'

/** What one card tells of: a finding, or it and its twin on the other side. */
export interface Told {
  key: string
  findings: Finding[]
}

const SIDE = /\b[LR]\b/g

/** How bad a finding is: what has no limit should not be at all and goes before how many times its limit another is. Sizes are compared where all have one unit. */
function severityOf(findings: Finding[]): (f: Finding) => number {
  const units = new Set(findings.filter((f) => !f.limit).map((f) => f.unit))
  return ({ size, limit }) => (limit ? size / limit : NO_LIMIT + (units.size === 1 ? size : 0))
}

const NO_LIMIT = 1e6
const CLEARLY = 1.05 // times as bad as its twin

/** The findings as cards, twins on one, by their kinds: the kind with the worst first, and in it the worst first. */
export function toldByKind(findings: Finding[]): Told[][] {
  const severity = severityOf(findings)
  const worst = (of: Told) => Math.max(...of.findings.map(severity))
  const cards = new Map<string, Finding[]>()
  findings.forEach((f, k) => {
    const sideless = `${f.kind} ${f.title.replace(SIDE, '·')}`
    const twins = cards.get(sideless)
    // the same words twice are two findings on one side
    const key = twins && (twins.length > 1 || twins[0]!.title === f.title) ? `${sideless} ${k}` : sideless
    cards.set(key, [...(cards.get(key) ?? []), f])
  })
  const kinds = new Map<string, Told[]>()
  for (const [key, of] of cards) {
    const told = { key, findings: severity(of.at(-1)!) > CLEARLY * severity(of[0]!) ? of.reverse() : of }
    kinds.set(of[0]!.kind, [...(kinds.get(of[0]!.kind) ?? []), told])
  }
  const sorted = [...kinds.values()].map((of) => of.sort((a, b) => worst(b) - worst(a)))
  return sorted.sort((a, b) => worst(b[0]!) - worst(a[0]!))
}

const plain = ({ edit, params }: Repair) => ({ edit, params })

/** The edit that puts findings right, each by its first repair: one that serves several is made once. Null where none has one. */
export function repairOf(findings: Finding[]): Step | null {
  const steps = findings.flatMap((f) => (f.repairs ?? []).slice(0, 1).map(plain))
  const different = [...new Map(steps.map((s) => [JSON.stringify(s), s])).values()]
  if (!different.length) return null
  return (different.length === 1 ? different[0]! : { edit: 'edits.together', params: { steps: different } }) as Step
}
