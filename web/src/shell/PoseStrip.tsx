import { Button, Input, Popover, Slider } from 'antd'
import { useState } from 'react'
import type { CharacterOut, MeasureOut } from '../api/client'
import { useBench } from '../state/bench'
import { useEdit } from '../state/edits'
import { Player } from './Player'
import { PoseMenu } from './PoseMenu'

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
          {character.bones.length
            ? 'No test poses yet. Turn a bone and keep the pose, or set up a first rig at Landmarks.'
            : 'No test poses yet. They come with the bones; until then the head stands in its neutral, as it was delivered.'}
        </p>
        {character.bones.length > 0 && <KeepPose character={character} />}
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
        <Player character={character} />
        <div className="row">
          {present ? <span className="quiet strip-keys">J, K · hold N</span> : <KeepPose character={character} />}
          <PoseMenu character={character} />
        </div>
      </div>
    </div>
  )
}

/** Keeps the pose on the stage as a test pose, under a name. */
function KeepPose({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const values = useBench((s) => s.values)
  const [open, setOpen] = useState(false)
  const [label, setLabel] = useState('')
  const keep = () =>
    edit.mutate(
      { edit: 'pose.keep', params: { label: label.trim(), values } },
      {
        onSuccess: (changed) => {
          setOpen(false)
          setLabel('')
          useBench.setState({ character: changed })
          useBench.getState().goToPose(changed.poses.at(-1)?.name ?? '')
        },
      },
    )
  const ask = (
    <span className="row">
      <Input size="small" aria-label="Name of the pose" value={label} autoFocus onChange={(e) => setLabel(e.target.value)} onPressEnter={() => label.trim() && keep()} />
      <Button size="small" type="primary" disabled={!label.trim()} loading={edit.isPending} onClick={keep}>
        Keep
      </Button>
    </span>
  )
  return (
    <Popover open={open} onOpenChange={setOpen} trigger="click" content={ask} title="Keep as a test pose">
      <Button size="small" disabled={!Object.values(values).some(Boolean)}>
        Keep this pose
      </Button>
    </Popover>
  )
}
