import { useBench } from '../state/bench'

/** What the last edit did to all test poses, in a line, until the next one is measured. */
export function Effects() {
  const effects = useBench((s) => s.effects)
  const set = useBench((s) => s.set)
  if (!effects) return null
  return (
    <div className={`stage-effects ${effects.worse.length ? 'worse' : ''}`} role="status" aria-label="Side effects">
      <span title={effects.said}>{effects.said}</span>
      <button className="bare quiet" aria-label="Dismiss" onClick={() => set({ effects: null })}>
        ✕
      </button>
    </div>
  )
}
