import { Button, Checkbox, Select } from 'antd'
import { useRef, useState } from 'react'
import type { CharacterOut, Control, ControlsOut, Pad } from '../../api/client'
import { shownValues, useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { ControlGroups } from '../../ui/ControlGroups'
import { NumberField } from '../../ui/NumberField'
import { PadView } from './PadView'

const SIZE = { width: 304, height: 371 } // units of the plan: it is drawn as large as there is room

interface Props {
  character: CharacterOut
  lines: ControlsOut['lines']
  chosen: string | null
  edit: ReturnType<typeof useEdit>
  onChoose: (control: string) => void
}

/** The head's own lines seen from in front, with a pad where each control moves it: dragged it moves the head, arranging it moves itself. */
export function FacePlan({ character, lines, chosen, edit, onChoose }: Props) {
  const svg = useRef<SVGSVGElement>(null)
  const [arranging, setArranging] = useState(false)
  const [moved, setMoved] = useState<{ pad: string; place: [number, number] } | null>(null)
  const values = useBench(shownValues)
  const goTo = useBench((s) => s.goTo)
  const controls = new Map(character.controls.map((c) => [c.name, c]))
  const pads = character.plan
  const on = pads.find((p) => p.x === chosen || p.y === chosen)
  const loose = character.controls.filter((c) => !pads.some((p) => p.x === c.name || p.y === c.name))
  const place = (pad: Pad): [number, number] => (moved?.pad === pad.name ? moved.place : (pad.place as [number, number]))
  const drop = (pad: Pad, at: [number, number]) => {
    const { name, label, x, y } = pad
    edit.mutate({ edit: 'plan.set_pad', params: { pad: name, label, x, y, at } }, { onSettled: () => setMoved(null) })
  }
  return (
    <>
      <svg ref={svg} viewBox={`0 0 ${SIZE.width} ${SIZE.height}`} className="face-plan" role="group" aria-label="Face plan" data-arranging={arranging}>
        {Object.entries(lines).map(([name, of]) => of.map((line, k) => <path key={`${name} ${k}`} className={`line-${name}`} d={line.map(([u, v], n) => `${n ? 'L' : 'M'}${(u! * SIZE.width).toFixed(1)} ${(v! * SIZE.height).toFixed(1)}`).join('')} />))}
        {pads.map((pad) => (
          <PadView
            key={pad.name}
            svg={svg}
            size={SIZE}
            label={pad.label}
            x={pad.x ? (controls.get(pad.x) ?? null) : null}
            y={pad.y ? (controls.get(pad.y) ?? null) : null}
            place={place(pad)}
            values={values}
            chosen={pad === on}
            arranging={arranging}
            onChoose={() => onChoose((pad.y ?? pad.x)!)}
            onValues={(changed) => goTo({ ...values, ...changed })}
            onMove={(at) => setMoved({ pad: pad.name, place: at })}
            onDrop={(at) => drop(pad, at)}
          />
        ))}
      </svg>
      {!pads.length && <p className="quiet">No pads yet. Arranged, every control gets one where it moves the face; two that move the same bone across and up share one.</p>}
      <div className="row">
        <Button size="small" type={pads.length ? 'default' : 'primary'} disabled={edit.isPending || !character.controls.length} onClick={() => edit.mutate({ edit: 'plan.arrange', params: {} })}>
          {pads.length ? 'Rearrange' : 'Arrange the plan'}
        </Button>
        {pads.length > 0 && (
          <Checkbox checked={arranging} onChange={(e) => setArranging(e.target.checked)}>
            Move the pads
          </Checkbox>
        )}
        {pads.length > 0 && loose.length > 0 && (
          <Select
            size="small"
            aria-label="Control without a pad"
            placeholder={`${loose.length} without a pad`}
            value={null}
            popupMatchSelectWidth={false}
            onChange={(name: string | null) => {
              const control = controls.get(name ?? '')
              if (control) edit.mutate({ edit: 'plan.set_pad', params: { label: control.label, y: control.name, at: [0.5, 0.5] } })
            }}
            options={loose.map((c) => ({ value: c.name, label: c.label }))}
          />
        )}
      </div>
      {pads.length > 0 && loose.length > 0 && (
        <section className="loose-controls" aria-label="Controls without a pad">
          <ControlGroups character={character} controls={loose} />
        </section>
      )}
      {on && (
        <div className="chosen-shape" role="group" aria-label="Pad">
          <div className="row">
            <b>{on.label}</b>
            <Button size="small" disabled={edit.isPending} onClick={() => edit.mutate({ edit: 'plan.remove_pad', params: { pad: on.name } })}>
              Remove pad
            </Button>
          </div>
          {[on.x, on.y].map((name) => name && controls.get(name) && <PadValue key={name} control={controls.get(name)!} value={values[name] ?? controls.get(name)!.rest} onSet={(v) => goTo({ ...values, [name]: v })} />)}
        </div>
      )}
    </>
  )
}

function PadValue({ control, value, onSet }: { control: Control; value: number; onSet: (v: number) => void }) {
  return (
    <div className="row">
      <span style={{ flex: 1 }}>{control.label}</span>
      <NumberField label={`${control.label} on the plan`} value={value} low={control.low} high={control.high} unit={control.unit ?? ''} onChange={onSet} />
      <button className="chip" disabled={value === control.rest} title="Back to its rest" onClick={() => onSet(control.rest)}>
        Rest
      </button>
    </div>
  )
}
