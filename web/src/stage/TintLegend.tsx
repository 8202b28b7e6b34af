import type { Tint } from '../api/frames'
import { askedScale, shownTint, useBench } from '../state/bench'
import { NumberField } from '../ui/NumberField'

const SMALLEST = 0.001 // mm or %
const LARGEST = 1000

const SAID: Record<Tint, string> = {
  mirror: 'Left against right in this pose',
  weights: 'Left against right: weight carried otherwise',
  pin: 'Now against the pinned revision',
  stretch: 'Stretched or pressed against the neutral',
  draft: 'As tried; hold V for now',
  dual: 'Dual quaternions against linear skinning',
  arrived: 'What arrives against what was made',
}

/** What the colours of a difference stand for; from where on they are full can be said. */
export function TintLegend() {
  const tint = useBench((s) => shownTint(s))
  const most = useBench((s) => s.tintMost)
  const asked = useBench((s) => askedScale(s) !== null)
  const set = useBench((s) => s.set)
  if (!tint) return null
  const unit = tint === 'weights' || tint === 'stretch' ? '%' : 'mm'
  return (
    <span className="legend" role="group" aria-label="Legend">
      <span className="words" title={SAID[tint]}>
        {SAID[tint]}
      </span>
      <span className="num">0</span>
      <i className="tint-ramp" />
      <NumberField label="Full colour from" value={Number(most.toPrecision(3))} low={SMALLEST} high={LARGEST} unit={unit} moving onChange={(most) => set({ tintUpTo: { of: tint, most } })} />
      {asked && (
        <button className="chip" title="A scale that suits what differs" onClick={() => set({ tintUpTo: null })}>
          As it suits
        </button>
      )}
    </span>
  )
}
