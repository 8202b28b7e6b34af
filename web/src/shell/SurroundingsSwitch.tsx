import { useSurroundings } from '../state/surroundings'

/** Turns the room round the stage down, and up again. */
export function SurroundingsSwitch() {
  const { surroundings, turn } = useSurroundings()
  return (
    <button className="tool" aria-label="Dark surroundings" aria-pressed={surroundings === 'dark'} title="Dark surroundings" onClick={turn}>
      <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden>
        <circle cx="8" cy="8" r="6.2" fill="none" stroke="currentColor" strokeWidth="1.4" />
        <path d="M8 1.8a6.2 6.2 0 0 1 0 12.4Z" fill="currentColor" />
      </svg>
    </button>
  )
}
