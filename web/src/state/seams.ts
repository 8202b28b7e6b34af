import type { Reading, Seam } from '../api/client'

/** Which station can repair a finding: carriers, what rides and hair on the scalp are set in Binding, lids in Lids, lips in Weights. */
export function stationOf(seam: Seam): string {
  if (seam.kind === 'follow' || seam.region === 'hair') return 'binding'
  return seam.region === 'eyes' ? 'lids' : 'weights'
}

/** Has a seam one side only: how far something has gone from where it should be? */
export const oneSided = (seam: Seam) => seam.kind === 'follow' || seam.kind === 'ride'

/** One number a reading stands for on its gauge: overlap to the left, gap to the right, lag and drift from zero. */
export function gaugeValue(reading: Reading): number {
  const gone = reading.lag ?? reading.drift
  if (gone != null) return gone
  if ((reading.overlap ?? 0) > 0.0005) return -(reading.overlap ?? 0)
  return reading.gap_limit != null ? (reading.gap ?? 0) : 0
}
