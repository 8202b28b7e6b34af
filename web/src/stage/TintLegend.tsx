import type { Tint } from '../api/frames'
import { shownTint, useBench } from '../state/bench'

const SAID: Record<Tint, string> = {
  mirror: 'Left against right in this pose',
  weights: 'Left against right: weight carried otherwise',
  pin: 'Now against the pinned revision',
  stretch: 'Stretched or pressed against the neutral',
  draft: 'As tried; hold V for now',
  dual: 'Dual quaternions against linear skinning',
}

/** What the colours of a difference stand for. */
export function TintLegend() {
  const tint = useBench((s) => shownTint(s))
  const most = useBench((s) => s.tintMost)
  if (!tint) return null
  const unit = tint === 'weights' || tint === 'stretch' ? '%' : 'mm'
  return (
    <span className="legend" role="group" aria-label="Legend">
      {SAID[tint]}
      <span className="num">0</span>
      <i className="tint-ramp" />
      <span className="num">
        {Number(most.toPrecision(3))} {unit}
      </span>
    </span>
  )
}
