import type { ReactNode } from 'react'

export interface PairItem {
  name: string
  label: string
  /** L or R; empty for one of the middle. */
  side: string
  /** Classes of its sign. */
  sign: string
  title: string
}

interface Props {
  label: string
  items: PairItem[]
  open: string | null
  onPick: (name: string) => void
  onHover?: (name: string | null) => void
  /** What is known of the open one. */
  children: ReactNode
}

/** A row for a thing of the middle, or for a pair of twins with a button each, the left one first. */
export function PairRow({ label, items, open, onPick, onHover, children }: Props) {
  const opened = items.some((item) => item.name === open)
  return (
    <div className={`mark-row ${opened ? 'open' : ''}`}>
      <div className="mark-pair">
        {/* a larger place to press; by the keyboard there are the buttons */}
        <span className="pair-name" onClick={() => onPick(items[0]!.name)}>
          {label}
        </span>
        {items.map((item) => (
          <button
            key={item.name}
            className="bare"
            aria-label={item.label}
            aria-expanded={item.name === open}
            title={item.title}
            onClick={() => onPick(item.name)}
            onPointerEnter={() => onHover?.(item.name)}
            onPointerLeave={() => onHover?.(null)}
          >
            <span className={item.sign} />
            <span className="num">{item.side}</span>
          </button>
        ))}
      </div>
      {opened && children}
    </div>
  )
}

/** Twins together, in the order in which the first of each came; the left one first. */
export function inPairs<T extends { name: string }>(things: T[], twinOf: (thing: T) => string | null | undefined): T[][] {
  const rows: T[][] = []
  const seen = new Set<string>()
  for (const thing of things) {
    if (seen.has(thing.name)) continue
    const twin = things.find((t) => t.name === twinOf(thing))
    rows.push(twin ? [thing, twin] : [thing])
    seen.add(thing.name)
    if (twin) seen.add(twin.name)
  }
  return rows
}

/** A label without its side. */
export const unsided = (label: string) => label.replace(/ [LR]$/, '')
