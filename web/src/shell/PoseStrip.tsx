import { Slider } from 'antd'
import type { CharacterOut, MeasureOut } from '../api/client'
import { useBench } from '../state/bench'

const sign = (report: MeasureOut | undefined) => (!report ? 'unknown' : report.within ? '' : 'over')

/** The test poses as pictures, each with a dot for its worst finding. */
export function PoseStrip({ character }: { character: CharacterOut }) {
  const present = useBench((s) => s.pose)
  const thumbnails = useBench((s) => s.thumbnails)
  const reports = useBench((s) => s.reports)
  const strength = useBench((s) => s.strength)
  const goToPose = useBench((s) => s.goToPose)
  const setStrength = useBench((s) => s.setStrength)
  if (!character.poses.length)
    return (
      <div className="strip">
        <p className="quiet" style={{ margin: 'auto' }}>
          No test poses yet. They come with the bones; until then the head stands in its neutral, as it was delivered.
        </p>
      </div>
    )
  return (
    <div className="strip">
      <div className="poses" role="list" aria-label="Test poses">
        {character.poses.map((p) => (
          <button key={p.name} role="listitem" className="bare pose" aria-current={present === p.name} onClick={() => goToPose(p.name)} data-pose={p.name}>
            {thumbnails[p.name] ? <img src={thumbnails[p.name]} alt="" /> : <span className="blank" />}
            <p title={p.label}>
              <span className={`dot ${sign(reports[p.name])}`} />
              <span>{p.label}</span>
            </p>
          </button>
        ))}
      </div>
      <div className="strip-tools">
        <div className="row" style={{ justifyContent: 'space-between' }}>
          <span>Strength</span>
          <span className="num">{Math.round(strength * 100)} %</span>
        </div>
        <Slider
          ariaLabelForHandle="Strength of the pose"
          min={0}
          max={1.5}
          step={0.01}
          value={strength}
          disabled={!present || present === 'neutral'}
          tooltip={{ open: false }}
          onChange={setStrength}
        />
        <div className="quiet" style={{ fontSize: 12 }}>
          {present ? 'J, K step · hold N: neutral' : 'A pose of your own'}
        </div>
      </div>
    </div>
  )
}
