import { useState } from 'react'
import type { CharacterOut, MeasureOut } from '../api/client'
import { useBench } from '../state/bench'
import { useEdit } from '../state/edits'
import { NameField } from '../ui/NameField'
import { counted } from '../ui/names'

const sign = (report: MeasureOut | undefined) => (!report ? 'unknown' : [...report.readings, ...(report.skin ?? [])].every((r) => (r.excess ?? 0) <= 1) ? '' : 'over')
const SAID = { unknown: 'not measured yet', '': 'within its limits', over: 'over a limit' }

/** The test poses as pictures, each with a sign for what was measured in it. */
export function PoseStrip({ character }: { character: CharacterOut }) {
  const present = useBench((s) => s.pose)
  const thumbnails = useBench((s) => s.thumbnails)
  const reports = useBench((s) => s.reports)
  const goToPose = useBench((s) => s.goToPose)
  const [renaming, setRenaming] = useState<string | null>(null)
  const edit = useEdit(character)
  const onlyOver = useBench((s) => s.onlyOver)
  const grid = useBench((s) => s.poseGrid)
  if (!character.poses.length)
    return (
      <p className="quiet dock-empty">
        {character.bones.length
          ? 'No test poses yet. Turn a bone and keep the pose, or set up a first rig at Landmarks.'
          : 'No test poses yet. They come with the bones; until then the head stands in its neutral, as it was delivered.'}
      </p>
    )
  return (
    <div className={`poses ${grid ? 'grid' : ''}`} role="list" aria-label="Test poses" title="J, K: the pose before, the pose after. Hold N: the neutral">
      {onlyOver && !character.poses.some((p) => sign(reports[p.name]) === 'over') && <p className="quiet dock-empty">No pose is over a limit.</p>}
      {character.poses.filter((p) => !onlyOver || sign(reports[p.name]) === 'over').map((p) => renaming === p.name ? (
        <div key={p.name} role="listitem" className="pose" data-pose={p.name}>
          {thumbnails[p.name] ? <img src={thumbnails[p.name]!.picture} alt="" /> : <span className="blank" />}
          <NameField
            label={`Name of the pose ${p.label}`}
            value={p.label}
            onDone={(label) => {
              setRenaming(null)
              if (label) edit.mutate({ edit: 'pose.rename', params: { pose: p.name, label } })
            }}
          />
        </div>
      ) : (
        <button key={p.name} role="listitem" className="bare pose" aria-current={present === p.name} onClick={() => goToPose(p.name)} data-pose={p.name}>
          {thumbnails[p.name] ? <img src={thumbnails[p.name]!.picture} alt="" /> : <span className="blank" />}
          <p title={`${p.label}. Double click: rename`} onDoubleClick={() => setRenaming(p.name)}>
            <span className={`dot ${sign(reports[p.name])}`} role="img" aria-label={SAID[sign(reports[p.name])]} />
            <span>{p.label}</span>
          </p>
        </button>
      ))}
    </div>
  )
}

/** How many poses are over a limit, on the screen or not: a click shows these alone. Beside it, all poses at once. */
export function PoseFilters({ character }: { character: CharacterOut }) {
  const over = useBench((s) => character.poses.filter((p) => sign(s.reports[p.name]) === 'over').length)
  const onlyOver = useBench((s) => s.onlyOver)
  const grid = useBench((s) => s.poseGrid)
  const set = useBench((s) => s.set)
  return (
    <>
      {(over > 0 || onlyOver) && (
        <button className="chip" aria-pressed={onlyOver} title={`${counted(over, 'pose')} over a limit: show no others`} onClick={() => set({ onlyOver: !onlyOver })}>
          <span className="dot over" /> {over} over
        </button>
      )}
      <button className="chip" aria-pressed={grid} title="All poses at once, in rows" onClick={() => set({ poseGrid: !grid })}>
        Rows
      </button>
    </>
  )
}
