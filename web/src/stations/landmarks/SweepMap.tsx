import type { EyeSeat } from '../../api/client'
import { depthSaid } from '../../ui/names'

const SIZE = 140
const FARTHEST = 40 // degrees at the rim
const DEEPEST = 1.5 // mm that fill a dot

const along = (degrees: number) => (degrees / FARTHEST) * (SIZE / 2 - 4)

interface Props {
  seat: EyeSeat
  chosen: number
  onChoose: (gaze: number) => void
}

/** The gaze sweep as a map: a dot a gaze, seen from in front of the head, so that the character's left is on the right. */
export function SweepMap({ seat, chosen, onChoose }: Props) {
  return (
    <svg width={SIZE} height={SIZE} viewBox={`${-SIZE / 2} ${-SIZE / 2} ${SIZE} ${SIZE}`} role="group" aria-label="Gaze sweep" className="sweep">
      {[20, 40].map((r) => (
        <circle key={r} r={along(r)} fill="none" stroke="var(--line)" />
      ))}
      <line x1={-along(40)} x2={along(40)} stroke="var(--line)" />
      <line y1={-along(40)} y2={along(40)} stroke="var(--line)" />
      {seat.contacts.map((c, k) => {
        const over = c.depth > 0
        const r = over ? 3 + 4.5 * Math.min(1, c.depth / DEEPEST) : 3
        return (
          <g
            key={k}
            transform={`translate(${along(c.across)} ${-along(c.height)})`}
            role="button"
            tabIndex={0}
            aria-pressed={k === chosen}
            aria-label={`${Math.round(c.across)}° across, ${Math.round(c.height)}° up: ${depthSaid(c.depth)}`}
            onClick={() => onChoose(k)}
            onKeyDown={(e) => e.key === 'Enter' && onChoose(k)}
          >
            <circle r={8} fill="transparent" />
            <circle r={r} fill={over ? 'var(--madder)' : 'var(--card)'} stroke={over ? 'var(--madder)' : 'var(--spruce)'} strokeWidth="1.6" />
            {k === chosen && <circle r={r + 3} fill="none" stroke="var(--ink)" strokeWidth="1.4" strokeDasharray="3 2" />}
          </g>
        )
      })}
    </svg>
  )
}
