import { Button } from 'antd'
import { useEffect } from 'react'
import type { Tried } from '../../api/client'
import { useBench } from '../../state/bench'
import { mm, partLabel } from '../../ui/names'

/** A pose as the rigger had it. */
export type OwnPose = Pick<ReturnType<typeof useBench.getState>, 'values' | 'pose' | 'strength'>

const AROUND = 2.5 // cm of surroundings of what moves

interface Props {
  found: Tried
  /** The pose to come back to. */
  own: OwnPose
  pending: boolean
  onAccept: () => void
  onLeave: () => void
}

/** What a repair would do: to the findings, to all test poses, and on the stage in the pose in which it shows most: as it would be, coloured by how far it goes, with what is now behind a handle and under a held key. */
export function TriedOut({ found: { draft, tried }, own, pending, onAccept, onLeave }: Props) {
  const goToPose = useBench((s) => s.goToPose)
  const frame = useBench((s) => s.frame)
  const comparing = useBench((s) => s.comparing)
  const set = useBench((s) => s.set)
  const poses = useBench((s) => s.character?.poses)
  const labels = new Map(poses?.map((p) => [p.name, p.label]))
  useEffect(() => {
    const { shows } = tried
    if (shows?.pose) goToPose(shows.pose)
    else if (shows) set({ values: shows.values, pose: null, strength: 1 })
    set({ trial: { draft, moved: shows?.moved ?? [], arrows: shows?.arrows ?? [] }, comparing: false })
    if (shows?.moved?.length) frame(shows.moved, AROUND)
    return () => set({ trial: null, holdBefore: false, comparing: false, ...own })
  }, [draft, tried, own, goToPose, frame, set])
  return (
    <div className="preview" role="status" aria-label="What it would do">
      <p>
        {tried.shows ? `Moves vertices by up to ${mm(tried.shows.millimetres ?? 0)}, most ${tried.shows.label}.` : 'Moves nothing in any pose that was looked at.'} Findings of {tried.station}{' '}
        <span className="num">
          {tried.before} → {tried.after}
        </span>
        {tried.after >= tried.before && ' (no fewer)'}.
      </p>
      <p className={tried.effects.worse.length ? 'madder' : 'quiet'}>{tried.effects.said}</p>
      {tried.stretched.map((s) => (
        <p key={s.part} className="madder">
          Stretches {partLabel(s.part)}: its worst edge from <span className="num">{s.before.toFixed(2)}</span> to <span className="num">{s.after.toFixed(2)}</span> times its length, in {labels.get(s.pose) ?? s.pose}.
        </p>
      ))}
      <span className="row">
        <Button size="small" type={tried.harms ? 'default' : 'primary'} loading={pending} onClick={onAccept}>
          {tried.harms ? 'Repair all the same' : 'Repair'}
        </Button>
        <Button size="small" onClick={onLeave}>
          Leave it
        </Button>
        {draft && tried.shows && (
          <Button size="small" type="text" aria-pressed={comparing} title="What is now, left of a handle (C); hold V to see it alone" onClick={() => set({ comparing: !comparing })}>
            Before | after
          </Button>
        )}
      </span>
    </div>
  )
}
