import { Button, Input, Popover } from 'antd'
import { useState } from 'react'
import type { CharacterOut, Step } from '../api/client'
import { useBench } from '../state/bench'
import { useEdit } from '../state/edits'

/** What can be done with the present pose, and with the strip as a whole. */
export function PoseMenu({ character }: { character: CharacterOut }) {
  const [open, setOpen] = useState(false)
  return (
    <Popover open={open} onOpenChange={setOpen} trigger="click" placement="topRight" content={<Menu character={character} />} destroyOnHidden>
      <Button size="small" aria-label="Poses" title="Rename, move, hide, add poses">
        ⋯
      </Button>
    </Popover>
  )
}

function Menu({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const present = useBench((s) => s.pose)
  const at = character.poses.findIndex((p) => p.name === present)
  const pose = character.poses[at]
  const [label, setLabel] = useState(pose?.label ?? '')
  const run = (step: Step, then: () => void = () => undefined) => edit.mutate(step, { onSuccess: then })
  const toRest = () => useBench.setState({ pose: null, values: {} })
  return (
    <div className="pose-menu" aria-label="Edit poses" aria-busy={edit.isPending}>
      {pose && (
        <>
          <span className="row">
            <Input size="small" aria-label="Name of the pose" value={label} onChange={(e) => setLabel(e.target.value)} onKeyDown={(e) => e.stopPropagation()} />
            <Button size="small" disabled={!label.trim() || label === pose.label} onClick={() => run({ edit: 'pose.rename', params: { pose: pose.name, label: label.trim() } })}>
              Rename
            </Button>
          </span>
          <span className="row">
            <Button size="small" disabled={at === 0} onClick={() => run({ edit: 'pose.move', params: { pose: pose.name, to: at - 1 } })}>
              ◂ Earlier
            </Button>
            <Button size="small" disabled={at === character.poses.length - 1} onClick={() => run({ edit: 'pose.move', params: { pose: pose.name, to: at + 1 } })}>
              Later ▸
            </Button>
            <Button size="small" disabled={!Object.keys(pose.values).length} onClick={() => run({ edit: 'pose.hide', params: { pose: pose.name, hidden: true } }, toRest)}>
              Hide
            </Button>
            <Button size="small" disabled={pose.name === 'neutral'} onClick={() => run({ edit: 'pose.remove', params: { pose: pose.name } }, toRest)}>
              Remove
            </Button>
          </span>
        </>
      )}
      <Button size="small" onClick={() => run({ edit: 'pose.add_range', params: {} })}>
        Add a range of motion
      </Button>
      {character.hidden_poses.length > 0 && (
        <span className="hidden-poses">
          <span className="quiet">Hidden:</span>
          {character.hidden_poses.map((p) => (
            <button key={p.name} className="chip" title="Bring it back" onClick={() => run({ edit: 'pose.hide', params: { pose: p.name, hidden: false } })}>
              {p.label}
            </button>
          ))}
        </span>
      )}
    </div>
  )
}
