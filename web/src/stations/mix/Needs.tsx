import { Button, Input, Select } from 'antd'
import { useState } from 'react'
import type { BoardEnd, CharacterOut, Control } from '../../api/client'
import { useEdit } from '../../state/edits'
import { NumberField } from '../../ui/NumberField'

interface Props {
  character: CharacterOut
  /** The ends of a sweep of this very revision: an older one may have stood on what is needed no longer. */
  swept: BoardEnd[]
}

/** What is only used with another: it is swept on that, and never without. */
export function Needs({ character, swept }: Props) {
  const edit = useEdit(character)
  const needs = character.mix!.needs!
  const labelled = (name: string) => character.controls.find((c) => c.name === name)
  const found = swept.filter((e) => e.base && !needs.some((n) => n.control === e.control))
  return (
    <section className="needs" aria-label="Used only with another">
      <h3>
        Used only with another <span className="quiet num">{needs.length + found.length}</span>
      </h3>
      <ul>
        {needs.map((n) => (
          <li key={`${n.control} ${n.other}`} className="row">
            <span>
              {labelled(n.control)?.label ?? n.control} with {labelled(n.other)?.label ?? n.other} from {n.value}
              {labelled(n.other)?.unit}
              {n.reason && <i className="quiet"> {n.reason}</i>}
            </span>
            <Button
              size="small"
              type="text"
              aria-label={`Use ${labelled(n.control)?.label ?? n.control} by itself`}
              title="Use it by itself"
              onClick={() => edit.mutate({ edit: 'mix.set_need', params: { control: n.control, other: n.other, value: null, reason: '' } })}
            >
              ×
            </Button>
          </li>
        ))}
        {[...new Set(found.map((e) => e.base!))].map((base) => (
          <li key={base} className="quiet">
            Swept on {base}, doing nothing alone: {found.filter((e) => e.base === base).map((e) => e.label).join(', ')}
          </li>
        ))}
      </ul>
      {character.controls.length > 1 && <NewNeed character={character} pending={edit.isPending} onNeed={(params) => edit.mutate({ edit: 'mix.set_need', params })} />}
    </section>
  )
}

interface NewProps {
  character: CharacterOut
  pending: boolean
  onNeed: (params: { control: string; other: string; value: number; reason: string }) => void
}

const middle = (c: Control) => Math.round(((c.rest + (c.high > c.rest ? c.high : c.low)) / 2) * 100) / 100

function NewNeed({ character, pending, onNeed }: NewProps) {
  const [control, setControl] = useState<string | null>(null)
  const [other, setOther] = useState<Control | null>(null)
  const [value, setValue] = useState(0)
  const [reason, setReason] = useState('')
  const options = (without: string | undefined | null) => character.controls.filter((c) => c.name !== without).map((c) => ({ value: c.name, label: c.label }))
  const choose = (name: string) => {
    const found = character.controls.find((c) => c.name === name)!
    setOther(found)
    setValue(middle(found))
  }
  return (
    <div className="new-need">
      <Select size="small" showSearch={{ optionFilterProp: 'label' }} aria-label="What is used" placeholder="What is used" value={control} onChange={setControl} options={options(other?.name)} />
      <span className="quiet">only with</span>
      <Select size="small" showSearch={{ optionFilterProp: 'label' }} aria-label="With what" placeholder="what" value={other?.name} onChange={choose} options={options(control)} />
      {other && (
        <>
          <span className="quiet">from</span>
          <NumberField label="From what value on" value={value} low={other.low} high={other.high} unit={other.unit ?? ''} onChange={setValue} />
          <Input size="small" className="why" aria-label="Why only then" placeholder="Why only then" value={reason} maxLength={500} onChange={(e) => setReason(e.target.value)} onKeyDown={(e) => e.stopPropagation()} />
        </>
      )}
      <Button size="small" disabled={!control || !other} loading={pending} onClick={() => control && other && onNeed({ control, other: other.name, value, reason })}>
        Add
      </Button>
    </div>
  )
}
