import { Button, Checkbox } from 'antd'
import { useState } from 'react'
import type { CharacterOut } from '../../api/client'
import { shownValues, useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'

/** The pose on the stage becomes the rest pose: one edit, that undo takes back. */
export function RestPanel({ character }: { character: CharacterOut }) {
  const values = useBench(shownValues)
  const goTo = useBench((s) => s.goTo)
  const [stay, setStay] = useState(false)
  const edit = useEdit(character)
  const away = Object.fromEntries(Object.entries(values).filter(([name, value]) => value !== (character.controls.find((c) => c.name === name)?.rest ?? 0)))
  const posed = Object.keys(away).length > 0
  const take = () => edit.mutate({ edit: 'rest.take', params: { values: away, joints: stay ? 'stay' : 'move' } }, { onSuccess: () => goTo({}) })
  return (
    <section aria-label="Rest">
      <h3>Rest</h3>
      <p className="quiet">The pose on the stage becomes the neutral; controls at rest are there from then on. Shapes turn with what carries them.</p>
      <div className="row">
        <Button size="small" loading={edit.isPending} disabled={!posed} title={posed ? '' : 'Pose the head first'} onClick={take}>
          Make this pose the rest
        </Button>
        <Checkbox checked={stay} onChange={({ target }) => setStay(target.checked)}>
          Joints stay
        </Checkbox>
      </div>
    </section>
  )
}
