import { useNavigate } from 'react-router-dom'
import type { CharacterOut } from '../api/client'
import { begun, STATIONS } from '../stations/stations'
import { useCounts } from '../state/counts'

const ROW = 25

const COUNTED: Record<string, string> = { checkin: 'faults', mix: 'causes of what is wrong', handoff: 'things that its receiver does not take' }

const countOf = (counts: Record<string, number>, key: string) => counts[key] ?? 0

/** The stations on their thread: dashed, with a knot each; red and counted where findings wait. */
export function Rail({ character, current }: { character: CharacterOut; current: string }) {
  const navigate = useNavigate()
  const counts = useCounts(character, current)
  return (
    <nav className="rail" aria-label="Stations">
      <svg width="34" height={STATIONS.length * ROW} aria-hidden>
        <line x1="23" x2="23" y1="4" y2={STATIONS.length * ROW - 4} stroke="var(--quiet)" strokeWidth="1.5" strokeDasharray="7 4" />
        {STATIONS.map((s, k) => {
          const found = countOf(counts, s.key)
          const done = begun(s, character.bones.length > 0) && (s.key !== 'mix' || character.mixed !== null)
          const colour = found ? 'var(--madder)' : done ? 'var(--spruce)' : 'var(--quiet)'
          const filled = done && !found
          return (
            <g key={s.key}>
              <circle cx="23" cy={k * ROW + ROW / 2} r="5" fill={filled ? colour : 'var(--paper)'} stroke={colour} strokeWidth="2" />
              {current === s.key && <circle cx="23" cy={k * ROW + ROW / 2} r="1.8" fill={filled ? 'var(--paper)' : colour} />}
            </g>
          )
        })}
      </svg>
      {STATIONS.map((s) => (
        <button
          key={s.key}
          className="bare"
          aria-current={current === s.key ? 'page' : undefined}
          onClick={() => navigate(`/characters/${character.id}/${s.key}${window.location.search}`)}
        >
          {s.label}
          {countOf(counts, s.key) > 0 && (
            <b title={`${countOf(counts, s.key)} ${COUNTED[s.key] ?? 'findings'}`}>{countOf(counts, s.key)}</b>
          )}
        </button>
      ))}
    </nav>
  )
}
