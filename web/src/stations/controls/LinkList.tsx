import { Button, Select } from 'antd'
import { useState } from 'react'
import type { CharacterOut, Control, ControlsOut, CurveKey, Link } from '../../api/client'
import { useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { ResponseEditor } from '../../ui/curve/ResponseEditor'
import { targetLabel } from '../../ui/names'
import { NumberField } from '../../ui/NumberField'

type Kind = Link['kind']
const KINDS: Kind[] = ['shape', 'bone', 'lid', 'relief', 'seal', 'corner', 'control']
const AXES = ['x', 'y', 'z'] as const

interface Props {
  character: CharacterOut
  control: Control
  curves: ControlsOut['curves']
  edit: ReturnType<typeof useEdit>
}

const keyOf = (n: { kind: string; target: string; axis?: string | null; by?: string }) => `${n.kind} ${n.target} ${n.axis ?? ''} ${n.axis ? n.by : ''}`

/** What a control drives: by so much a unit, or along a curve with keys that are dragged, typed, copied and pasted. */
export function LinkList({ character, control, curves, edit }: Props) {
  const [open, setOpen] = useState<string | null>(null)
  const copied = useBench((s) => s.copiedResponse)
  const set = useBench((s) => s.set)
  const links = control.links ?? []
  const said = (n: Link) => targetLabel(character, n.kind, n.target)
  const give = (n: Link, changed: object) => {
    const { kind, target, axis, by, gain } = n
    edit.mutate({ edit: 'control.link', params: { control: control.name, kind, targets: [target], axis, by, gain, keys: n.curve ?? [], ...changed } })
  }
  const straight: CurveKey[] = [control.low, ...(control.low < control.rest && control.rest < control.high ? [control.rest] : []), control.high].map((at) => ({ at, value: at, slope: null }))
  return (
    <>
      <h3>Drives</h3>
      {!links.length && <p className="quiet">Nothing yet. Add a link below.</p>}
      <ul className="links" aria-label={`What ${control.label} drives`}>
        {links.map((n) => {
          const key = keyOf(n)
          const curve = curves.find((c) => c.control === control.name && keyOf(c) === key)?.curve
          const values = (curve?.keys ?? []).map((k) => k.value)
          const reach = Math.max(1, ...values.map(Math.abs)) * 1.2
          return (
            <li key={key}>
              <button className="bare name" aria-expanded={open === key} aria-label={`${n.kind} ${said(n)}`} onClick={() => setOpen(open === key ? null : key)}>
                {open === key ? '▾' : '▸'} {n.kind} <b>{said(n)}</b> {n.axis ? `${n.by} ${n.axis}` : ''} {curve ? '∿' : ''}
              </button>
              <NumberField label={`How much of ${said(n)}`} value={n.gain} low={-1000} high={1000} unit="" onChange={(gain) => gain && give(n, { gain })} />
              <Button size="small" disabled={edit.isPending} title="It no longer drives this" onClick={() => give(n, { gain: 0 })}>
                Unlink
              </Button>
              {open === key && (
                <div className="link-curve">
                  {curve ? (
                    <ResponseEditor
                      label={`Response of ${said(n)} to ${control.label}`}
                      curve={curve}
                      at={[control.low, control.high]}
                      ends={[`${control.low}`, `${control.high}`]}
                      value={[Math.min(0, ...values) < 0 ? -reach : 0, reach]}
                      says={{ at: { label: 'Key at', name: 'Value of the control at the key', unit: '', times: 1 }, value: { label: 'Gives', name: 'What it gives at the key', unit: '', times: 1 } }}
                      onSet={(keys) => give(n, { keys })}
                    />
                  ) : (
                    <p className="quiet said">Straight: times the value of the control.</p>
                  )}
                  <div className="row">
                    <button className="chip" disabled={edit.isPending} onClick={() => give(n, { keys: curve ? [] : straight })}>
                      {curve ? 'Straight' : 'Along a curve'}
                    </button>
                    {curve && (
                      <button className="chip" onClick={() => set({ copiedResponse: curve.keys })}>
                        Copy the curve
                      </button>
                    )}
                    {copied && (
                      <button className="chip" disabled={edit.isPending} onClick={() => give(n, { keys: copied })}>
                        Paste
                      </button>
                    )}
                  </div>
                </div>
              )}
            </li>
          )
        })}
      </ul>
      <AddLink character={character} control={control} edit={edit} />
    </>
  )
}

/** What there is to drive, by kind. */
function targetsOf(character: CharacterOut, control: Control, kind: Kind): { value: string; label: string }[] {
  const named = (things: { name: string; label: string }[]) => things.map((t) => ({ value: t.name, label: t.label }))
  const known = (kind: Kind) => [...new Set(character.controls.flatMap((c) => (c.links ?? []).filter((n) => n.kind === kind).map((n) => n.target)))].map((t) => ({ value: t, label: targetLabel(character, kind, t) }))
  if (kind === 'shape') return named(character.shapes)
  if (kind === 'bone') return named(character.bones)
  if (kind === 'control') return named(character.controls.filter((c) => c !== control))
  return known(kind)
}

function AddLink({ character, control, edit }: { character: CharacterOut; control: Control; edit: ReturnType<typeof useEdit> }) {
  const [kind, setKind] = useState<Kind>('shape')
  const [target, setTarget] = useState<string | null>(null)
  const [axis, setAxis] = useState<(typeof AXES)[number]>('x')
  const [by, setBy] = useState<'turn' | 'move'>('turn')
  const bone = kind === 'bone'
  return (
    <div className="row" role="group" aria-label="Add a link">
      <Select
        size="small"
        aria-label="Kind of the link"
        value={kind}
        onChange={(k) => {
          setKind(k)
          setTarget(null)
        }}
        options={KINDS.map((k) => ({ value: k, label: k }))}
      />
      <Select size="small" showSearch aria-label="Target of the link" placeholder="What it drives" style={{ flex: 1, minWidth: 90 }} popupMatchSelectWidth={false} optionFilterProp="label" value={target} onChange={setTarget} options={targetsOf(character, control, kind)} />
      {bone && <Select size="small" aria-label="Turn or move" value={by} onChange={setBy} options={[{ value: 'turn', label: 'turn, °' }, { value: 'move', label: 'move, cm' }]} />}
      {bone && <Select size="small" aria-label="Axis" value={axis} onChange={setAxis} options={AXES.map((a) => ({ value: a, label: a }))} />}
      <Button size="small" disabled={!target || edit.isPending} onClick={() => edit.mutate({ edit: 'control.link', params: { control: control.name, kind, targets: [target!], gain: bone && by === 'turn' ? 10 : 1, axis: bone ? axis : null, by, keys: [] } })}>
        Link
      </Button>
    </div>
  )
}
