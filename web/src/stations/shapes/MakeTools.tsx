import { Button, Dropdown, Input } from 'antd'
import { useState } from 'react'
import type { CharacterOut, ShapesOut } from '../../api/client'
import { shownValues, useBench } from '../../state/bench'
import { strengthOf } from '../../state/known'
import type { useEdit } from '../../state/edits'
import { TakeTargets } from './TakeTargets'

interface Props {
  character: CharacterOut
  units: ShapesOut['units']
  edit: ReturnType<typeof useEdit>
}

/** New shapes: from the neutral, from the pose on the stage, from landmarks, from files. */
export function MakeTools({ character, units, edit }: Props) {
  const [name, setName] = useState('')
  const [which, setWhich] = useState<'apart' | 'both'>('apart')
  const values = useBench(shownValues)
  const set = useBench((s) => s.set)
  const goTo = useBench((s) => s.goTo)
  const wanted = name.trim()
  const made = (changed: CharacterOut) => {
    const fresh = changed.shapes.at(-1)
    setName('')
    if (!fresh) return
    set({ chosenShapes: [fresh.name] })
    goTo({ [strengthOf(fresh.name)]: 1 }) // what was made stands on the stage, and nothing twice
  }
  const sides = which === 'apart' ? 'left and right apart' : 'both sides in one'
  return (
    <div className="shape-tools">
      <label className="name-of">
        <span>Name</span>
        <Input size="small" aria-label="Name of the new shape" value={name} maxLength={80} onChange={(e) => setName(e.target.value)} onKeyDown={(e) => e.stopPropagation()} />
      </label>
      <div className="row">
        <Button
          size="small"
          type="primary"
          disabled={!wanted || edit.isPending}
          title="It does nothing yet: sculpt it"
          onClick={() => edit.mutate({ edit: 'shape.new', params: { name: wanted, values } }, { onSuccess: made })}
        >
          From the neutral
        </Button>
        <Button size="small" disabled={!wanted || edit.isPending} title="All that this pose does before the bones" onClick={() => edit.mutate({ edit: 'shape.from_pose', params: { name: wanted, values } }, { onSuccess: made })}>
          From this pose
        </Button>
        <Button size="small" disabled={!wanted || edit.isPending} title="What the bones do in this pose, to every part they carry" onClick={() => edit.mutate({ edit: 'shape.bake_pose', params: { name: wanted, values } }, { onSuccess: made })}>
          Bake the bones
        </Button>
      </div>
      <h3>Starter set</h3>
      <p className="quiet">Action units built from the landmarks, as falloffs over the surface to go on from.</p>
      <div className="row">
        <Dropdown.Button
          size="small"
          trigger={['click']}
          disabled={edit.isPending}
          onClick={() => edit.mutate({ edit: 'shape.starter', params: { which } })}
          menu={{
            style: { maxHeight: 320, overflow: 'auto' },
            items: units.map((u) => ({ key: u.number, label: `${u.number} ${u.label}` })),
            onClick: ({ key }) => edit.mutate({ edit: 'shape.starter', params: { units: [key], which } }),
          }}
        >
          Make all {units.length}
        </Dropdown.Button>
        <button className="chip" aria-pressed={which === 'both'} onClick={() => setWhich(which === 'apart' ? 'both' : 'apart')}>
          {sides}
        </button>
      </div>
      <h3>From files</h3>
      <TakeTargets character={character} />
    </div>
  )
}
