import { Button, Input, Select } from 'antd'
import { useState } from 'react'
import type { CharacterOut, Control, ControlsOut } from '../../api/client'
import { shownValues, useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { NumberField } from '../../ui/NumberField'
import { LinkList } from './LinkList'

interface Props {
  character: CharacterOut
  control: Control | null
  curves: ControlsOut['curves']
  edit: ReturnType<typeof useEdit>
  onChoose: (control: string | null) => void
}

/** Controls made and changed: their names, ranges and links. */
export function ControlTools({ character, control, curves, edit, onChoose }: Props) {
  const [label, setLabel] = useState('')
  const made = (changed: CharacterOut) => {
    setLabel('')
    onChoose(changed.controls.at(-1)?.name ?? null)
  }
  const driven = new Set(character.controls.flatMap((c) => (c.links ?? []).filter((n) => n.kind === 'shape').map((n) => n.target)))
  const free = character.shapes.filter((s) => !driven.has(s.name)).map((s) => s.name)
  const add = (low: number) => edit.mutate({ edit: 'control.add', params: { label: label.trim(), low, high: 1, rest: 0, unit: '' } }, { onSuccess: made })
  return (
    <div className="shape-tools">
      <div className="row">
        <Select
          size="small"
          showSearch
          aria-label="Control"
          placeholder="Choose a control"
          style={{ flex: 1, minWidth: 0 }}
          optionFilterProp="label"
          value={control?.name}
          onChange={onChoose}
          options={character.controls.map((c) => ({ value: c.name, label: c.label }))}
        />
        {free.length > 0 && (
          <Button size="small" disabled={edit.isPending} title={`From 0 to 1, for ${free.slice(0, 6).join(', ')}${free.length > 6 ? ' …' : ''}; left and right apart`} onClick={() => edit.mutate({ edit: 'control.for_shapes', params: { shapes: free, together: false } }, { onSuccess: made })}>
            For {free.length} shapes
          </Button>
        )}
      </div>
      <div className="row">
        <Input size="small" aria-label="Name of the new control" placeholder="New control" style={{ flex: 1 }} value={label} maxLength={80} onChange={(e) => setLabel(e.target.value)} onKeyDown={(e) => e.stopPropagation()} />
        <Button size="small" disabled={!label.trim() || edit.isPending} title="From 0 to 1" onClick={() => add(0)}>
          One-way
        </Button>
        <Button size="small" disabled={!label.trim() || edit.isPending} title="From -1 to 1" onClick={() => add(-1)}>
          Two-way
        </Button>
      </div>
      {control ? <ControlEditor character={character} control={control} curves={curves} edit={edit} onChoose={onChoose} /> : <p className="quiet">Choose a control here or on the face plan: its range, and what it drives along which curve.</p>}
    </div>
  )
}

type EditorProps = Props & { control: Control }

function ControlEditor({ character, control: c, curves, edit, onChoose }: EditorProps) {
  const [label, setLabel] = useState(c.label)
  const values = useBench(shownValues)
  const drag = useBench((s) => s.drag)
  const range = (changed: object) => edit.mutate({ edit: 'control.set_range', params: { control: c.name, low: c.low, high: c.high, rest: c.rest, ...changed } })
  const rename = () => label.trim() && label !== c.label && edit.mutate({ edit: 'control.rename', params: { control: c.name, label: label.trim() } })
  const k = character.controls.indexOf(c)
  return (
    <section aria-label={`Control ${c.label}`} className="relief-editor">
      <div className="row">
        <Input size="small" aria-label="Label of the control" style={{ flex: 1 }} value={label} maxLength={80} onChange={(e) => setLabel(e.target.value)} onKeyDown={(e) => e.stopPropagation()} onPressEnter={rename} onBlur={rename} />
        {k > 0 && (
          <Button size="small" aria-label="Up in the list" disabled={edit.isPending} onClick={() => edit.mutate({ edit: 'control.move', params: { control: c.name, before: character.controls[k - 1]!.name } })}>
            ↑
          </Button>
        )}
        <Button size="small" disabled={edit.isPending} onClick={() => edit.mutate({ edit: 'control.remove', params: { controls: [c.name] } }, { onSuccess: () => onChoose(null) })}>
          Remove
        </Button>
      </div>
      <div className="row">
        {(['low', 'rest', 'high'] as const).map((key) => (
          <label key={key}>
            <span>{key}</span>
            <NumberField label={`${key} of ${c.label}`} value={c[key]} low={-1000} high={1000} unit={c.unit ?? ''} onChange={(v) => range({ [key]: v })} />
          </label>
        ))}
      </div>
      <div className="row">
        <span>Now</span>
        <NumberField label={`Value of ${c.label}`} value={values[c.name] ?? c.rest} low={c.low} high={c.high} unit={c.unit ?? ''} onChange={(v) => drag(c.name, v)} />
        <button className="chip" onClick={() => drag(c.name, c.high)}>
          To its end
        </button>
        <button className="chip" onClick={() => drag(c.name, c.rest)}>
          Rest
        </button>
      </div>
      <LinkList character={character} control={c} curves={curves} edit={edit} />
    </section>
  )
}
