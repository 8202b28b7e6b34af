import { Button } from 'antd'
import { useEffect } from 'react'
import type { Tried } from '../api/client'
import { useBench } from '../state/bench'
import { mm } from '../ui/names'

/** A pose as the rigger had it. */
export type OwnPose = Pick<ReturnType<typeof useBench.getState>, 'values' | 'pose' | 'strength'>

interface Props {
  tried: Tried
  /** The pose to come back to. */
  own: OwnPose
  pending: boolean
  onAccept: () => void
  onLeave: () => void
}

/** What a repair would do: to the findings, to all test poses, and on the stage as arrows in the pose in which it shows most. */
export function TriedOut({ tried, own, pending, onAccept, onLeave }: Props) {
  const goToPose = useBench((s) => s.goToPose)
  const set = useBench((s) => s.set)
  useEffect(() => {
    const { shows } = tried
    if (shows?.pose) goToPose(shows.pose)
    else if (shows) set({ values: shows.values, pose: null, strength: 1 })
    set({ tried: shows?.arrows ?? [] })
    return () => set({ tried: [], ...own })
  }, [tried, own, goToPose, set])
  return (
    <div className="preview" role="status" aria-label="What it would do">
      <p>
        {tried.shows ? `Moves vertices by up to ${mm(tried.shows.millimetres)}, most ${tried.shows.label}.` : 'Moves nothing in any pose that was looked at.'} Findings of {tried.station}{' '}
        <span className="num">
          {tried.before} → {tried.after}
        </span>
        {tried.after >= tried.before && ' (no fewer)'}.
      </p>
      <p className={tried.effects.worse.length ? 'madder' : 'quiet'}>{tried.effects.said}</p>
      <span className="row">
        <Button size="small" type={tried.harms ? 'default' : 'primary'} loading={pending} onClick={onAccept}>
          {tried.harms ? 'Repair all the same' : 'Repair'}
        </Button>
        <Button size="small" onClick={onLeave}>
          Leave it
        </Button>
      </span>
    </div>
  )
}
