import { Button } from 'antd'
import { useEffect } from 'react'
import type { TryOut } from '../api/client'
import { useBench } from '../state/bench'
import { mm } from '../ui/names'

interface Props {
  tried: TryOut
  pending: boolean
  onAccept: () => void
  onLeave: () => void
}

/** What a repair would do: to the findings, to all test poses, and on the stage as arrows in the pose in which it shows most. */
export function TriedOut({ tried, pending, onAccept, onLeave }: Props) {
  const goToPose = useBench((s) => s.goToPose)
  const set = useBench((s) => s.set)
  useEffect(() => {
    if (tried.pose) goToPose(tried.pose)
    else set({ values: tried.values, pose: null, strength: 1 })
    set({ tried: tried.arrows })
    return () => set({ tried: [] })
  }, [tried, goToPose, set])
  const left = tried.findings_before - tried.findings_after
  return (
    <div className="preview" role="status" aria-label="What it would do">
      <p>
        {tried.label ? `Moves vertices by up to ${mm(tried.farthest)}, most ${tried.label}.` : 'Moves nothing, in any test pose.'} Findings of {tried.findings_of}{' '}
        <span className="num">
          {tried.findings_before} → {tried.findings_after}
        </span>
        {left <= 0 && ' (no fewer)'}.
      </p>
      <p className={tried.effects.worse.length ? 'madder' : 'quiet'}>{tried.effects.said}</p>
      <span className="row">
        <Button size="small" type="primary" loading={pending} onClick={onAccept}>
          Repair
        </Button>
        <Button size="small" onClick={onLeave}>
          Leave it
        </Button>
      </span>
    </div>
  )
}
