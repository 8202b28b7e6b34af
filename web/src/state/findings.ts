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

/** Which station can repair a finding: carriers are set in Binding, lids in Lids, lips in Weights. */
export function stationOf(seam: Seam): string {
  if (seam.kind === 'follow') return 'binding'
  return seam.region === 'eyes' ? 'lids' : 'weights'
}

/** One number a reading stands for on its gauge: overlap to the left, gap to the right, lag from zero. */
export function gaugeValue(reading: Reading): number {
  if (reading.lag != null) return reading.lag
  if ((reading.overlap ?? 0) > 0.0005) return -(reading.overlap ?? 0)
  return reading.gap_limit != null ? (reading.gap ?? 0) : 0
}
