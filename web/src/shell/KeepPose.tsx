import { Button, Input, Popover } from 'antd'
import { useState } from 'react'
import type { CharacterOut } from '../api/client'
import { useBench } from '../state/bench'
import { useEdit } from '../state/edits'

/** Keeps the pose on the stage as a test pose, under a name. */
export function KeepPose({ character }: { character: CharacterOut }) {
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
