import { useMemo } from 'react'
import type { Finding, MeasureOut } from '../api/client'
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
