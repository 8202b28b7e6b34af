import type { Control, JawCurves, JawSetUp } from '../../api/client'
import type { useEdit } from '../../state/edits'
import { useOpening } from './opening'
import { fitOf, LineSign, pathOf, ScaleBar } from '../../ui/drawing'
import { mm } from '../../ui/names'
import { NumberField } from '../../ui/NumberField'

const SIZE = { width: 288, height: 150 }
const EDGE = 16
const LEAST = 5 // mm that the picture shows to each side

interface Props {
  jaw: JawSetUp
  curves: JawCurves | undefined
  edit: ReturnType<typeof useEdit>
  /** What opens the jaw. */
  opens: Control | undefined
}

/** How far the jaw opens, slides and goes to the sides, and the ways that chin and teeth take. */
export function MovementTools({ jaw, curves, edit, opens }: Props) {
  const share = useOpening(opens)
  const m = jaw.movement
  const give = (changed: Partial<typeof m>) => edit.mutate({ edit: 'jaw.set_movement', params: { ...m, ...changed } })
  const hinge = (k: 1 | 2, by: number) => {
    const base = [...jaw.hinge] as [number, number, number]
    base[k] += by / 10
    edit.mutate({ edit: 'bone.place', params: { bone: jaw.bone, base, twist: 0, mirror: false } })
  }
  const field = (label: string, value: number, low: number, high: number, unit: string, take: (v: number) => void) => (
    <label>
      <span>{label}</span>
      <NumberField label={label} value={Math.round(value * 100) / 100} low={low} high={high} unit={unit} onChange={take} />
    </label>
  )
  return (
    <div className="jaw-tools">
      <div className="fields">
        {field('Opens', m.opens, 0, 60, '°', (v) => give({ opens: v }))}
        {field('Slides', m.slides * 10, -20, 20, 'mm', (v) => give({ slides: v / 10 }))}
        {field('To the side', m.side * 10, 0, 20, 'mm', (v) => give({ side: v / 10 }))}
        {field('Turns with it', m.turns, -20, 20, '°', (v) => give({ turns: v }))}
        {field('Thrust', m.forward * 10, 0, 20, 'mm', (v) => give({ forward: v / 10 }))}
      </div>
      <p className="quiet said">
        Slides {mm(m.opens ? (m.slides * 10) / m.opens : 0)} a degree. {jaw.teeth_gap == null ? 'Upper or lower teeth are missing.' : `Teeth at rest: ${jaw.teeth_gap < 0 ? `overlap ${mm(-jaw.teeth_gap)}` : `${mm(jaw.teeth_gap)} apart`}.`}
      </p>
      <div className="row">
        <span>Hinge</span>
        {(
          [
            ['up', 2, 1],
            ['down', -2, 1],
            ['forward', 2, 2],
            ['back', -2, 2],
          ] as const
        ).map(([label, by, k]) => (
          <button key={label} className="chip" disabled={edit.isPending} title={`The hinge 2 mm ${label}`} onClick={() => hinge(k, by)}>
            {label}
          </button>
        ))}
      </div>
      {curves && <Ways curves={curves} share={share} />}
    </div>
  )
}

/** The ways of the chin and of a lower tooth, seen from the side, forward to the right. */
function Ways({ curves, share }: { curves: JawCurves; share: number }) {
  const ways = [
    { label: 'Chin', points: curves.chin, colour: 'var(--spruce)', dash: undefined },
    ...(curves.tooth ? [{ label: 'Lower tooth', points: curves.tooth, colour: 'var(--plum)', dash: '6 3' }] : []),
  ]
  // a jaw that does not move yet is drawn as small as it is
  const fit = fitOf({ ...SIZE, edge: EDGE }, [...ways.flatMap((w) => w.points), [-LEAST, -LEAST], [LEAST, 2]])
  const k = Math.round(Math.max(0, Math.min(1, share)) * (curves.openings.length - 1))
  return (
    <>
      <svg {...SIZE} className="sweep" role="img" aria-label={ways.map((w) => `${w.label} goes down ${mm(-w.points.at(-1)![1]!)}`).join(', ')}>
        {ways.map((w) => (
          <g key={w.label}>
            <path d={pathOf(w.points, fit.at)} fill="none" stroke={w.colour} strokeWidth="2" strokeDasharray={w.dash} />
            <circle cx={fit.at(w.points[k]!)[0]} cy={fit.at(w.points[k]!)[1]} r="4" fill={w.colour} />
          </g>
        ))}
        <ScaleBar x={EDGE} y={SIZE.height - 10} mm={10} scale={fit.scale} />
        <text x={SIZE.width - 6} y={EDGE - 4} textAnchor="end" className="tiny">
          forward →
        </text>
      </svg>
      <ul className="legend">
        {ways.map((w) => (
          <li key={w.label}>
            <LineSign colour={w.colour} dash={w.dash} />
            {w.label} <span className="num">{mm(-w.points[k]![1]!)} down</span>
          </li>
        ))}
      </ul>
    </>
  )
}
