import { useNavigate } from 'react-router-dom'
import type { CharacterOut } from '../api/client'
import { STATIONS } from '../stations/stations'
import { useCounts } from '../state/counts'
import { saidOf, type Waiting } from '../state/waiting'

const ROW = 25

const COUNTED: Record<string, string> = { checkin: 'faults', mix: 'causes of what is wrong', handoff: 'things that its receiver does not take' }

/** Red where something waits, green where nothing does, grey where that was never looked for; filled once it is of the state on the bench. */
function colourOf(waiting: Waiting | undefined): { colour: string; filled: boolean } {
  if (!waiting || (waiting.known === 'not yet' && !waiting.count)) return { colour: 'var(--quiet)', filled: false }
  return waiting.count ? { colour: 'var(--madder)', filled: false } : { colour: 'var(--spruce)', filled: waiting.known === 'measured' }
}

/** The stations on their thread: dashed, with a knot each; counted where findings wait. */
export function Rail({ character, current }: { character: CharacterOut; current: string }) {
  const navigate = useNavigate()
  const counts = useCounts(character, current)
  return (
    <nav className="rail" aria-label="Stations">
      <svg width="34" height={STATIONS.length * ROW} aria-hidden>
        <line x1="23" x2="23" y1="4" y2={STATIONS.length * ROW - 4} stroke="var(--quiet)" strokeWidth="1.5" strokeDasharray="7 4" />
        {STATIONS.map((s, k) => {
          const { colour, filled } = colourOf(counts[s.key])
          return (
            <g key={s.key}>
              <circle cx="23" cy={k * ROW + ROW / 2} r="5" fill={filled ? colour : 'var(--paper)'} stroke={colour} strokeWidth="2" />
              {current === s.key && <circle cx="23" cy={k * ROW + ROW / 2} r="1.8" fill={filled ? 'var(--paper)' : colour} />}
            </g>
          )
        })}
      </svg>
      {STATIONS.map((s) => {
        const waiting = counts[s.key]
        return (
          <button
            key={s.key}
            className="bare"
            aria-current={current === s.key ? 'page' : undefined}
            title={waiting ? saidOf(waiting, COUNTED[s.key]) : undefined}
            onClick={() => navigate(`/characters/${character.id}/${s.key}${window.location.search}`)}
          >
            {s.label}
            {waiting && waiting.count > 0 && <b data-known={waiting.known}>{waiting.count}</b>}
          </button>
        )
      })}
    </nav>
  )
}
