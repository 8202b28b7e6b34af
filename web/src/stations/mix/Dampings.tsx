import { Button, Select } from 'antd'
import { useState } from 'react'
import type { CharacterOut, Control } from '../../api/client'
import { useEdit } from '../../state/edits'
import { percent } from '../../ui/names'
import { NumberField } from '../../ui/NumberField'

/** Controls that do less while others act. */
export function Dampings({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const { controls } = character
  const every = controls.flatMap((control) => (control.damped ?? []).map((damping) => ({ control, damping, by: controls.find((c) => c.name === damping.by)! })))
  return (
    <section className="needs" aria-label="Less while another acts">
      <h3>
        Less while another acts <span className="quiet num">{every.length}</span>
      </h3>
      <ul>
        {every.map(({ control, damping, by }) => (
          <li key={`${control.name} ${by.name} ${damping.way} ${damping.full}`} className="row">
            <span>
              {control.label}
              {damping.way && ` ${damping.way === 'high' ? '+' : '−'}`} to {percent(damping.left)} while {by.label} is at {damping.full}
              {by.unit}
            </span>
            <Button
              size="small"
              type="text"
              aria-label={`Let ${control.label} go all the way again`}
              title="Let it go all the way again"
              onClick={() => edit.mutate({ edit: 'control.damp', params: { control: control.name, by: by.name, way: damping.way ?? null, comes_in: damping.comes_in, full: damping.full, left: null } })}
            >
              ×
            </Button>
          </li>
        ))}
      </ul>
      {controls.length > 1 && <NewDamping controls={controls} pending={edit.isPending} onDamp={(params) => edit.mutate({ edit: 'control.damp', params })} />}
    </section>
  )
}

interface NewProps {
  controls: Control[]
  pending: boolean
  onDamp: (params: { control: string; by: string; way: null; comes_in: number; full: number; left: number }) => void
}

function NewDamping({ controls, pending, onDamp }: NewProps) {
  const [control, setControl] = useState<string | null>(null)
  const [by, setBy] = useState<Control | null>(null)
  const [left, setLeft] = useState(50)
  const options = (without: string | undefined | null) => controls.filter((c) => c.name !== without).map((c) => ({ value: c.name, label: c.label }))
  const far = (c: Control) => (c.high !== c.rest ? c.high : c.low)
  return (
    <div className="new-need">
      <Select size="small" showSearch={{ optionFilterProp: 'label' }} aria-label="What does less" placeholder="What does less" value={control} onChange={setControl} options={options(by?.name)} />
      <span className="quiet">goes only to</span>
      <NumberField label="How far it still goes" value={left} low={0} high={100} unit="%" onChange={setLeft} />
      <span className="quiet">while</span>
      <Select size="small" showSearch={{ optionFilterProp: 'label' }} aria-label="While what acts" placeholder="what" value={by?.name} onChange={(name) => setBy(controls.find((c) => c.name === name)!)} options={options(control)} />
      <span className="quiet">is full</span>
      <Button size="small" disabled={!control || !by} loading={pending} onClick={() => control && by && onDamp({ control, by: by.name, way: null, comes_in: by.rest, full: far(by), left: left / 100 })}>
        Add
      </Button>
    </div>
  )
}
