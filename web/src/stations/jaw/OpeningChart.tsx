import { useState } from 'react'
import type { Control, JawCurves } from '../../api/client'
import { useOpening } from './opening'
import { LineSign, pathOf } from '../../ui/drawing'
import { mm } from '../../ui/names'

const SIZE = { width: 288, height: 128 }
const EDGE = { left: 30, right: 8, top: 10, bottom: 20 }
const LIMIT = 1 // mm that a region may sink in unasked
const COLOURS = ['var(--plum)', 'var(--spruce)', 'var(--ochre)']
const DASHES = [undefined, '6 3', '2 3'] // a second sign beside the colour

type Shown = 'hollow' | 'volume' | 'gap'
const SHOWN: { key: Shown; label: string }[] = [
  { key: 'hollow', label: 'Hollow' },
  { key: 'volume', label: 'Volume' },
  { key: 'gap', label: 'Lip gap' },
]

interface Props {
  curves: JawCurves
  /** What opens the jaw. */
  opens: Control | undefined
  onOpen: (share: number) => void
}

interface Line {
  label: string
  values: number[]
}

/** What the lower face does from closed to wide open. A click opens the jaw that far. */
export function OpeningChart({ curves, opens, onOpen }: Props) {
  const share = useOpening(opens)
  const [shown, setShown] = useState<Shown>('hollow')
  return (
    <section aria-label="Over the opening">
      <h3>Over the opening</h3>
      <div className="row" style={{ gap: 4 }}>
        {SHOWN.map(({ key, label }) => (
          <button key={key} className="chip" aria-pressed={key === shown} onClick={() => setShown(key)}>
            {label}
          </button>
        ))}
      </div>
      {shown === 'gap' ? <GapChart curves={curves} share={share} /> : <Lines curves={curves} share={share} onOpen={onOpen} lines={linesOf(curves, shown)} unit={shown === 'volume' ? '%' : 'mm'} />}
    </section>
  )
}

function linesOf(curves: JawCurves, shown: Shown): Line[] {
  if (shown === 'volume') return [{ label: 'Lower face', values: curves.volume }]
  return curves.regions.map((r) => ({ label: r.label, values: r.hollow }))
}

const said = (value: number, unit: string) => (unit === 'mm' ? mm(value) : `${value.toFixed(1)} %`)

function Lines({ curves, share, onOpen, lines, unit }: Omit<Props, 'opens'> & { share: number; lines: Line[]; unit: string }) {
  const all = lines.flatMap((l) => l.values)
  const low = unit === 'mm' ? 0 : Math.floor(Math.min(...all, 99) / 5) * 5
  const high = unit === 'mm' ? Math.max(2, Math.ceil(Math.max(...all))) : Math.ceil(Math.max(...all, 101) / 5) * 5
  const x = (at: number) => EDGE.left + at * (SIZE.width - EDGE.left - EDGE.right)
  const y = (v: number) => SIZE.height - EDGE.bottom - ((v - low) / (high - low)) * (SIZE.height - EDGE.top - EDGE.bottom)
  const path = (values: number[]) => pathOf(values.map((v, k) => [curves.openings[k]!, v]), ([at, v]) => [x(at!), y(v!)])
  const now = (values: number[]) => {
    const at = Math.max(0, Math.min(1, share)) * (values.length - 1)
    const k = Math.min(Math.floor(at), values.length - 2)
    return values[k]! + (at - k) * (values[k + 1]! - values[k]!)
  }
  const marks = unit === 'mm' ? [0, LIMIT, high] : [low, 100, high]
  return (
    <>
      <svg
        {...SIZE}
        className="sweep"
        role="img"
        style={{ cursor: 'pointer' }}
        aria-label={lines.map((l) => `${l.label}: ${said(Math.max(...l.values), unit)} at most`).join(', ')}
        onClick={(e) => {
          const box = e.currentTarget.getBoundingClientRect()
          onOpen(Math.max(0, Math.min(1, (e.clientX - box.left - EDGE.left) / (SIZE.width - EDGE.left - EDGE.right))))
        }}
      >
        {marks.map((v) => (
          <g key={v}>
            <path d={`M${EDGE.left} ${y(v)}H${SIZE.width - EDGE.right}`} stroke={unit === 'mm' && v === LIMIT ? 'var(--saffron)' : 'var(--line)'} />
            <text x={EDGE.left - 4} y={y(v) + 3} textAnchor="end" className="tiny num">
              {v}
            </text>
          </g>
        ))}
        {lines.map((l, k) => (
          <path key={l.label} d={path(l.values)} fill="none" stroke={COLOURS[k]} strokeWidth="2" strokeDasharray={DASHES[k]} />
        ))}
        <path d={`M${x(share)} ${EDGE.top}V${SIZE.height - EDGE.bottom}`} stroke="var(--ink)" strokeDasharray="7 4" />
        <text x={EDGE.left} y={SIZE.height - 5} className="tiny">
          closed
        </text>
        <text x={SIZE.width - EDGE.right} y={SIZE.height - 5} textAnchor="end" className="tiny">
          wide open
        </text>
      </svg>
      <ul className="legend">
        {lines.map((l, k) => (
          <li key={l.label}>
            <LineSign colour={COLOURS[k]} dash={DASHES[k]} />
            {l.label} <span className="num">{said(now(l.values), unit)}</span>
            <span className="quiet num"> of {said(Math.max(...l.values), unit)}</span>
          </li>
        ))}
      </ul>
    </>
  )
}

/** How far the lips are apart from corner to corner: as the jaw is now, over what it is wide open. */
function GapChart({ curves, share }: { curves: JawCurves; share: number }) {
  const most = Math.max(1, ...curves.gap.flat())
  const x = (at: number) => SIZE.width / 2 + (at / 2) * (SIZE.width - EDGE.left - EDGE.right)
  const y = (v: number) => SIZE.height - EDGE.bottom - (v / most) * (SIZE.height - EDGE.top - EDGE.bottom)
  const path = (row: number[]) => pathOf(row.map((v, k) => [curves.places[k]!, v]), ([at, v]) => [x(at!), y(v!)])
  const k = Math.round(Math.max(0, Math.min(1, share)) * (curves.gap.length - 1))
  const now = curves.gap[k]!
  return (
    <>
      <svg {...SIZE} className="sweep" role="img" aria-label={`Lips apart by ${mm(Math.max(...now))} at most`}>
        {curves.gap.map((row, j) => j % 4 === 0 && <path key={j} d={path(row)} fill="none" stroke="var(--line)" strokeWidth="1.2" />)}
        <path d={path(now)} fill="rgba(74,108,140,.14)" stroke="var(--slate)" strokeWidth="2" />
        <text x={EDGE.left} y={SIZE.height - 5} className="tiny">
          right corner
        </text>
        <text x={SIZE.width - EDGE.right} y={SIZE.height - 5} textAnchor="end" className="tiny">
          left corner
        </text>
      </svg>
      <p className="num said">Lips apart by {mm(Math.max(...now))}, wide open {mm(Math.max(...curves.gap.at(-1)!))}.</p>
    </>
  )
}
