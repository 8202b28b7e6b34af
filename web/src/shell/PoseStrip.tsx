import type { CharacterOut, MeasureOut } from '../api/client'
import { useBench } from '../state/bench'

const sign = (report: MeasureOut | undefined) => (!report ? 'unknown' : [...report.readings, ...(report.skin ?? [])].every((r) => (r.excess ?? 0) <= 1) ? '' : 'over')
const SAID = { unknown: 'not measured yet', '': 'within its limits', over: 'over a limit' }

/** The test poses as pictures, each with a sign for what was measured in it. */
export function PoseStrip({ character }: { character: CharacterOut }) {
  const present = useBench((s) => s.pose)
  const thumbnails = useBench((s) => s.thumbnails)
  const reports = useBench((s) => s.reports)
  const goToPose = useBench((s) => s.goToPose)
  if (!character.poses.length)
    return (
      <p className="quiet dock-empty">
        {character.bones.length
          ? 'No test poses yet. Turn a bone and keep the pose, or set up a first rig at Landmarks.'
          : 'No test poses yet. They come with the bones; until then the head stands in its neutral, as it was delivered.'}
      </p>
    )
  return (
    <div className="poses" role="list" aria-label="Test poses" title="J, K: the pose before, the pose after. Hold N: the neutral">
      {character.poses.map((p) => (
        <button key={p.name} role="listitem" className="bare pose" aria-current={present === p.name} onClick={() => goToPose(p.name)} data-pose={p.name}>
          {thumbnails[p.name] ? <img src={thumbnails[p.name]!.picture} alt="" /> : <span className="blank" />}
          <p title={p.label}>
            <span className={`dot ${sign(reports[p.name])}`} role="img" aria-label={SAID[sign(reports[p.name])]} />
            <span>{p.label}</span>
          </p>
        </button>
      ))}
    </div>
  )
}
