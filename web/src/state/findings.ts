import { useMemo } from 'react'
import type { Finding, MeasureOut, Reading, Seam } from '../api/client'
import { useBench } from './bench'

/** The worst finding of each seam over all measured poses, worst first. */
export function worstFindings(reports: Record<string, MeasureOut>): Finding[] {
  const worst = new Map<string, Finding>()
  for (const report of Object.values(reports))
    for (const finding of report.findings) {
      const known = worst.get(finding.seam)
      if (!known || finding.size > known.size) worst.set(finding.seam, finding)
    }
  return [...worst.values()].sort((a, b) => b.size - a.size)
}

export function useFindings(): Finding[] {
  const reports = useBench((s) => s.reports)
  return useMemo(() => worstFindings(reports), [reports])
}

/** Which station can repair a finding: carriers and what rides are set in Binding, lids in Lids, lips in Weights. */
export function stationOf(seam: Seam): string {
  if (seam.kind === 'follow' || seam.kind === 'ride') return 'binding'
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
