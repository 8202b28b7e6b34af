import type { Finding, NamesOut, SheetRow } from '../../../api/client'

export type Sort = 'list' | 'name' | 'size'
export type Group = 'none' | 'side' | 'part' | 'check'

/** A row with what else is known of its shape. */
export interface Row extends SheetRow {
  checks: Finding[]
  named: 'same' | 'near' | 'extra' | null
}

export interface Grouped {
  title: string
  rows: Row[]
}

const SIDES = { L: 'Left', R: 'Right', C: 'Both sides' }

/** Rows with their findings and how their names stand to a list; controls are called as people read them, by `labels`. */
export function rowsOf(rows: SheetRow[], findings: Finding[], names: NamesOut | undefined, labels: Map<string, string>): Row[] {
  const near = new Set(names?.near.map(([ours]) => ours))
  const same = new Set(names?.same)
  return rows.map((r) => ({
    ...r,
    driven_by: r.driven_by.map((name) => labels.get(name) ?? name),
    checks: findings.filter((f) => f.about === r.name),
    named: !names ? null : same.has(r.name) ? 'same' : near.has(r.name) ? 'near' : 'extra',
  }))
}

/** Rows whose name, twin, part or driver holds every word of the filter. */
export function filtered(rows: Row[], filter: string): Row[] {
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean)
  const said = (r: Row) => [r.name, r.label, r.twin ?? '', ...Object.keys(r.parts), ...r.driven_by, ...r.checks.map((c) => c.title)].join(' ').toLowerCase()
  return words.length ? rows.filter((r) => words.every((w) => said(r).includes(w))) : rows
}

export function sorted(rows: Row[], by: Sort): Row[] {
  if (by === 'list') return rows
  return [...rows].sort((a, b) => (by === 'size' ? b.size - a.size : a.name.localeCompare(b.name, 'en', { numeric: true })))
}

export function grouped(rows: Row[], by: Group): Grouped[] {
  if (by === 'none') return [{ title: '', rows }]
  const key = (r: Row) => (by === 'side' ? SIDES[r.side] : by === 'part' ? Object.keys(r.parts).join(', ') || 'Nothing' : r.checks.length ? 'With findings' : 'Clean')
  const titles = [...new Set(rows.map(key))].sort()
  return titles.map((title) => ({ title, rows: rows.filter((r) => key(r) === title) }))
}

/** Names with a text put in place of another; those that do not change are left out. */
export function renamed(names: string[], find: string, put: string): Record<string, string> {
  if (!find) return {}
  return Object.fromEntries(names.map((n) => [n, n.split(find).join(put).trim()]).filter(([old, now]) => now && now !== old))
}

/** The chosen names after a click: this one alone, with Ctrl also or no longer, with Shift all from the last one to it. */
export function chosenAfter(chosen: string[], shown: string[], name: string, how: 'only' | 'also' | 'up to'): string[] {
  if (how === 'only') return [name]
  if (how === 'also') return chosen.includes(name) ? chosen.filter((n) => n !== name) : [...chosen, name]
  const [from, to] = [shown.indexOf(chosen.at(-1) ?? name), shown.indexOf(name)]
  const between = shown.slice(Math.min(from, to), Math.max(from, to) + 1)
  return [...chosen.filter((n) => !between.includes(n)), ...between.filter((n) => n !== name), name]
}
