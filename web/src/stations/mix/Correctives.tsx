import { Button, Checkbox, Popconfirm } from 'antd'
import { useEffect, useState } from 'react'
import type { Activation, CharacterOut, Shape } from '../../api/client'
import { shownValues, useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { useWoken } from '../../state/mix'
import { counted, percent } from '../../ui/names'
import { NumberField } from '../../ui/NumberField'
import { channelLabel, spanOf } from '../channels'
import { SculptTools } from '../shapes/SculptTools'

type Corrective = Shape & { activation: Activation }

const isCorrective = (s: Shape): s is Corrective => s.activation != null

/** Shapes that come in by themselves where expressions meet: what brings each in, how much of it, sculpted on its pose. */
export function Correctives({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const [open, setOpen] = useState<string | null>(null)
  const values = useBench(shownValues)
  const found = character.shapes.filter(isCorrective)
  const rest = new Map(character.controls.map((c) => [c.name, c.rest]))
  const posed = Object.entries(values).some(([name, value]) => value !== (rest.get(name) ?? 0))
  const add = () =>
    edit.mutate(
      { edit: 'corrective.add', params: { values, mixed: 'product' } },
      {
        onSuccess: (after) => {
          const made = after.shapes.filter(isCorrective).at(-1)!
          setOpen(made.name)
          useBench.getState().set({ painting: true })
        },
      },
    )
  return (
    <section aria-label="Correctives" className="correctives" aria-busy={edit.isPending}>
      <Button size="small" disabled={!posed} loading={edit.isPending} title={posed ? 'To be sculpted on the pose on the stage; driven by all that is away from rest' : 'Pose the head as it is to be corrected first'} onClick={add}>
        New on this pose
      </Button>
      <ul>
        {found.map((corrective) => (
          <li key={corrective.name} data-muted={corrective.muted}>
            <span className="row">
              <Checkbox
                checked={!corrective.muted}
                aria-label={`${corrective.label} acts`}
                title={corrective.muted ? 'Muted: it does nothing' : 'Mute it'}
                onChange={(e) => edit.mutate({ edit: 'shape.mute', params: { names: [corrective.name], muted: !e.target.checked } })}
              />
              <button className="bare" aria-expanded={open === corrective.name} onClick={() => setOpen(open === corrective.name ? null : corrective.name)}>
                {corrective.label}
              </button>
              <span className="quiet num">{percent(corrective.activation.gain ?? 1)}</span>
            </span>
            {open === corrective.name && <One character={character} corrective={corrective} />}
          </li>
        ))}
      </ul>
      {!found.length && <p className="quiet said">A corrective comes in by itself where expressions meet, and goes when one of them does.</p>}
    </section>
  )
}

/** One of them, on its pose. */
function One({ character, corrective }: { character: CharacterOut; corrective: Corrective }) {
  const edit = useEdit(character)
  const [sculpt, setSculpt] = useState(false)
  const goTo = useBench((s) => s.goTo)
  const { data: woken = [] } = useWoken(character, corrective.name)
  const { name, activation } = corrective
  const toPose = () => goTo(Object.fromEntries((activation.drivers ?? []).map((d) => [d.channel, d.full])))
  useEffect(() => toPose(), [name]) // eslint-disable-line react-hooks/exhaustive-deps -- gone to once, when it is opened
  const change = (changed: Partial<Activation>) => edit.mutate({ edit: 'corrective.set_activation', params: { name, activation: { ...activation, ...changed } } })
  return (
    <div className="corrective" role="group" aria-label={corrective.label}>
      {activation.drivers.map((driver, k) => {
        const [low, high, unit] = spanOf(character, driver.channel)
        const put = (changed: Partial<typeof driver>) => change({ drivers: activation.drivers.map((d, i) => (i === k ? { ...d, ...changed } : d)) })
        const label = channelLabel(character, driver.channel)
        return (
          <div key={driver.channel} className="row driver">
            <span>{label}</span>
            <NumberField label={`${label} brings it in from`} value={driver.comes_in} low={low} high={high} unit={unit} onChange={(v) => put({ comes_in: v })} />
            <span className="quiet">to</span>
            <NumberField label={`All of it at ${label}`} value={driver.full} low={low} high={high} unit={unit} onChange={(v) => put({ full: v })} />
            {activation.drivers.length > 1 && (
              <Button size="small" type="text" aria-label={`Not by ${label}`} title="Does not drive it" onClick={() => change({ drivers: activation.drivers.filter((_, i) => i !== k) })}>
                ×
              </Button>
            )}
          </div>
        )
      })}
      <div className="row driver">
        <span>How much</span>
        <NumberField label="How much of it" value={activation.gain ?? 1} low={-4} high={4} unit="" onChange={(v) => change({ gain: v })} />
      </div>
      <div className="row">
        <Button size="small" title="The head where all of it is in" onClick={toPose}>
          To its pose
        </Button>
        <Button size="small" aria-pressed={sculpt} onClick={() => setSculpt(!sculpt)}>
          Sculpt
        </Button>
        <Button size="small" disabled={edit.isPending} title="The same on the other side, brought in by the mirror images of what drives it" onClick={() => edit.mutate({ edit: 'corrective.mirror', params: { name } })}>
          Mirror
        </Button>
        <Popconfirm title={`Remove ${corrective.label}?`} okText="Remove" onConfirm={() => edit.mutate({ edit: 'shape.remove', params: { names: [name] } })}>
          <Button size="small">Remove</Button>
        </Popconfirm>
      </div>
      {activation.drivers.length > 2 && (
        <Checkbox checked={activation.mixed === 'radial'} title="By a radial basis over its drivers, not by their product, which is small where many are half in" onChange={(e) => change({ mixed: e.target.checked ? 'radial' : 'product' })}>
          Comes in sooner
        </Checkbox>
      )}
      {woken.length > 0 && (
        <p className="quiet said" role="status" aria-label="What else brings it in">
          Also {woken.map((w) => `${percent(w.amount)} in ${w.moment}`).join(', ')}.
        </p>
      )}
      <p className="quiet said">{corrective.parts.length ? `Moves ${counted(corrective.parts.length, 'part')}.` : 'It moves nothing yet: sculpt it.'}</p>
      {sculpt && <SculptTools character={character} name={name} edit={edit} />}
    </div>
  )
}
