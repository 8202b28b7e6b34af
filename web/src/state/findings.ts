import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { fetchFindings, type CharacterOut, type Finding, type MeasureOut, type Station } from '../api/client'
import { useBench } from './bench'
import { resting } from './resting'

/** The worst finding of each seam over all measured poses, worst first. */
export function worstFindings(reports: Record<string, MeasureOut>): Finding[] {
  const worst = new Map<string, Finding>()
  for (const report of Object.values(reports))
    for (const finding of report.findings) {
      const known = worst.get(finding.about)
      if (!known || excess(finding) > excess(known)) worst.set(finding.about, finding)
    }
  return [...worst.values()].sort((a, b) => excess(b) - excess(a))
}

/** How many times its limit a finding is: sizes are of several units. */
export const excess = ({ size, limit }: Finding) => size / (limit ?? 1)

export function useFindings(): Finding[] {
  const reports = useBench((s) => s.reports)
  return useMemo(() => worstFindings(reports), [reports])
}

/** What a station finds wrong at the head of the history, while it is `wanted`. The last answer stays in sight until the next is there, as one that is out of date. */
export function useStationFindings({ id, revision, bones }: CharacterOut, station: Station, wanted = true) {
  const ready = useBench((s) => s.stageReady)
  return useQuery({
    queryKey: ['findings', station, id, revision.number],
    queryFn: ({ signal }) => resting(signal).then(() => fetchFindings(id, station, revision.number, signal)),
    placeholderData: (before) => before,
    enabled: ready && wanted && bones.length > 0,
    staleTime: Infinity, // a revision stays what it is
    retry: false,
  })
}
