import { useMemo, useState } from 'react'
import type { CharacterOut, MeasureOut } from '../api/client'
import { useBench } from '../state/bench'
import { useEdit } from '../state/edits'
import { NameField } from '../ui/NameField'
import { counted } from '../ui/names'

const sign = (report: MeasureOut | undefined) => (!report ? 'unknown' : [...report.readings, ...(report.skin ?? [])].every((r) => (r.excess ?? 0) <= 1) ? '' : 'over')
const SAID = { unknown: 'not measured yet', '': 'within its limits', over: 'over a limit' }

/** The poses that are over a limit, as far as they are measured. */
function useOver({ poses }: CharacterOut) {
  const reports = useBench((s) => s.reports)
  return useMemo(() => poses.filter((p) => sign(reports[p.name]) === 'over'), [poses, reports])
}

/** The test poses as pictures, each with a sign for what was measured in it. */
export function PoseStrip({ character }: { character: CharacterOut }) {
  const over = useOver(character)
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
  const shown = onlyOver ? over : character.poses
  return (
    <div className={`poses ${grid ? 'grid' : ''}`} role="list" aria-label="Test poses" title="J, K: the pose before, the pose after. Hold N: the neutral">
      {onlyOver && !shown.length && <p className="quiet dock-empty">No pose is over a limit.</p>}
      {shown.map((p) => (
        <OnePose key={p.name} character={character} pose={p} />
      ))}
    </div>
  )
}

function OnePose({ character, pose: p }: { character: CharacterOut; pose: CharacterOut['poses'][number] }) {
  const present = useBench((s) => s.pose === p.name)
  const picture = useBench((s) => s.thumbnails[p.name]?.picture)
  const found = sign(useBench((s) => s.reports[p.name]))
  const goToPose = useBench((s) => s.goToPose)
  const [renaming, setRenaming] = useState(false)
  const edit = useEdit(character)
  const image = picture ? <img src={picture} alt="" /> : <span className="blank" />
  if (renaming)
    return (
      <div role="listitem" className="pose" data-pose={p.name}>
        {image}
        <NameField
          label={`Name of the pose ${p.label}`}
          value={p.label}
          onDone={(label) => {
            setRenaming(false)
            if (label) edit.mutate({ edit: 'pose.rename', params: { pose: p.name, label } })
          }}
        />
      </div>
    )
  return (
    <button role="listitem" className="bare pose" aria-current={present} onClick={() => goToPose(p.name)} data-pose={p.name}>
      {image}
      <p title={`${p.label}. Double click: rename`} onDoubleClick={() => setRenaming(true)}>
        <span className={`dot ${found}`} role="img" aria-label={SAID[found]} />
        <span>{p.label}</span>
      </p>
    </button>
  )
}

/** How many poses are over a limit, on the screen or not: a click shows these alone. Beside it, all poses at once. */
export function PoseFilters({ character }: { character: CharacterOut }) {
  const over = useOver(character).length
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
