import { useEffect, useRef } from 'react'
import { useBench } from '../state/bench'
import { useFindings } from '../state/findings'
import type { StageEngine } from './engine'

/** The finding of the chosen seam, or the worst in this pose, pinned to its place by a thread. */
export function Callout({ engine }: { engine: StageEngine | null }) {
  const findings = useFindings()
  const seam = useBench((s) => s.seam)
  const pose = useBench((s) => s.pose)
  const strength = useBench((s) => s.strength)
  const report = useBench((s) => (s.pose ? s.reports[s.pose] : undefined))
  const path = useRef<SVGPathElement>(null)
  const card = useRef<HTMLDivElement>(null)
  const inPose = [...(report?.findings ?? [])].sort((a, b) => b.size - a.size)
  const finding = strength === 1 && pose ? (inPose.find((f) => f.seam === seam) ?? inPose[0]) : undefined

  useEffect(() => {
    if (!engine) return
    engine.mark(finding?.place.point ?? null)
    return engine.watch(() => {
      const at = finding && engine.project(finding.place.point)
      const box = card.current
      if (!at || !box || !path.current) {
        path.current?.setAttribute('d', '')
        return
      }
      const x = box.offsetLeft + box.offsetWidth
      const y = box.offsetTop + box.offsetHeight / 2
      path.current.setAttribute('d', `M${x} ${y} H${Math.max(x + 18, at.x - Math.abs(at.y - y) * 0.8)} L${at.x} ${at.y}`)
    })
  }, [engine, finding])

  if (!finding) return null
  const elsewhere = findings.length - 1
  return (
    <>
      <svg className="leader" aria-hidden>
        <path ref={path} stroke="var(--madder)" strokeWidth="1.4" fill="none" />
      </svg>
      <div className="card callout" ref={card} role="status">
        <b>{finding.title}</b>
        <div className="quiet">{finding.text}</div>
        {elsewhere > 0 && <div className="quiet num">{elsewhere} more in other seams</div>}
      </div>
    </>
  )
}
