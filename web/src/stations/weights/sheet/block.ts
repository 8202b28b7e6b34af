import { parseTyped } from '../../../ui/typedNumber'

/** A corner of a range of cells. */
export interface Cell {
  row: number
  column: number
}

export interface Range {
  from: Cell
  to: Cell
}

export interface Block {
  vertices: number[]
  bones: string[]
  weights: number[][]
}

export const spans = ({ from, to }: Range) => ({
  top: Math.min(from.row, to.row),
  bottom: Math.max(from.row, to.row),
  left: Math.min(from.column, to.column),
  right: Math.max(from.column, to.column),
})

/** A weight as somebody typed it: 0.4, ,4 or 40 %. Null where it is none. */
export function typedWeight(text: string): number | null {
  const value = parseTyped(text, '')
  return value !== null && value >= 0 && value <= 1 ? value : null
}

/** What the first row of a range holds, given to all rows of it. */
export function filledDown(range: Range, rows: { vertex: number; weights: number[] }[], bones: string[]): Block {
  const { top, bottom, left, right } = spans(range)
  const filled = rows.slice(top, bottom + 1)
  return { vertices: filled.map((r) => r.vertex), bones: bones.slice(left, right + 1), weights: filled.map(() => rows[top]!.weights.slice(left, right + 1)) }
}

const cells = (text: string) => text.replace(/\r/g, '').replace(/\n$/, '').split('\n').map((line) => line.split('\t'))

/** What tab-separated text would set: with a header of bones by their names and vertices by their numbers, else from the range on. */
export function pasted(text: string, range: Range, vertices: number[], bones: string[], named: (label: string) => string | undefined): Block | string {
  const lines = cells(text)
  const header = lines[0]?.[0]?.trim().toLowerCase() === 'vertex'
  const { top, left } = spans(range)
  const body = header ? lines.slice(1).map((line) => line.slice(1)) : lines
  const names = header ? lines[0]!.slice(1).filter((label) => label.trim().toLowerCase() !== 'total') : []
  const columns = header ? names.map((label) => named(label.trim()) ?? `? ${label}`) : bones.slice(left, left + (lines[0]?.length ?? 0))
  const rows = header ? lines.slice(1).map((line) => Number(line[0])) : vertices.slice(top, top + lines.length)
  const strange = columns.find((c) => c.startsWith('? '))
  if (strange) return `There is no bone called “${strange.slice(2)}” here.`
  if (rows.some((v) => !Number.isInteger(v))) return 'A row of the table does not begin with a vertex number.'
  const weights = rows.map((_, r) => columns.map((_, c) => typedWeight(body[r]?.[c] ?? '')))
  if (!rows.length || !columns.length || weights.flat().some((w) => w === null)) return 'The table holds something that is no weight from 0 to 1.'
  return { vertices: rows, bones: columns, weights: weights as number[][] }
}

/** The range, or the whole table with its header, as tab-separated text. */
export function copied(vertices: number[], labels: string[], weights: number[][], range: Range | null): string {
  if (!range) return [['vertex', ...labels, 'total'], ...vertices.map((v, r) => [v, ...weights[r]!, sum(weights[r]!)])].map((line) => line.join('\t')).join('\n')
  const { top, bottom, left, right } = spans(range)
  return weights
    .slice(top, bottom + 1)
    .map((line) => line.slice(left, right + 1).join('\t'))
    .join('\n')
}

const sum = (line: number[]) => Number(line.reduce((a, b) => a + b, 0).toFixed(6))
