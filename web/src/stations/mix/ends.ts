import type { BoardEnd, BoardFinding, MixReport } from '../../api/client'

/** An end of a control, by its name. */
export const endOf = (report: MixReport, name: string): BoardEnd | undefined => report.ends.find((e) => e.name === name)

/** What an end is called, by its name. */
export const labelsOf = (report: MixReport) => (name: string) => endOf(report, name)?.label ?? name

/** The findings that nobody means. */
export const counting = (report: MixReport): BoardFinding[] => report.findings.filter((f) => f.intended == null)
