import type { Tint } from '../api/frames'
import { useBench } from '../state/bench'

const SAID: Record<Tint, string> = {
  mirror: 'Left against right in this pose',
  weights: 'Left against right: weight carried otherwise',
  pin: 'Now against the pinned revision',
  stretch: 'Stretched or pressed against the neutral',
  dual: 'Dual quaternions against linear skinning',
}

/** What the colours of a difference stand for. */
export function TintLegend() {
  const tint = useBench((s) => s.tint)
  const most = useBench((s) => s.tintMost)
  if (!tint) return null
  const unit = tint === 'weights' || tint === 'stretch' ? '%' : 'mm'
  return (
    <div className="card tint-legend" aria-label="Legend">
      <b>{SAID[tint]}</b>
      <i />
      <div className="row num quiet" style={{ justifyContent: 'space-between' }}>
        <span>0</span>
        <span>
          {Number((most / 2).toPrecision(3))} {unit}
        </span>
        <span>
          {Number(most.toPrecision(3))} {unit}
        </span>
      </div>
    </div>
  )
}
