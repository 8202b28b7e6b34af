import { App, Button, Checkbox, Popconfirm } from 'antd'
import { useEffect, useState } from 'react'
import { fetchSelect, type Activation, type CharacterOut, type Shape, type Step } from '../../api/client'
import { shownValues, useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { useWoken } from '../../state/mix'
import { counted, percent } from '../../ui/names'
import { NumberField } from '../../ui/NumberField'
import { channelLabel, spanOf } from '../channels'
import { SculptTools } from '../shapes/SculptTools'
import { SolveOne } from './SolveOne'

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
      <SolveOne character={character} values={values} posed={posed} onSolved={setOpen} />
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
              {found.length > 1 && <Solo corrective={corrective} all={found} onMute={(steps) => edit.mutate({ edit: 'edits.together', params: { steps } } as Step)} />}
            </span>
            {open === corrective.name && <One character={character} corrective={corrective} />}
          </li>
        ))}
      </ul>
      {!found.length && <p className="quiet said">A corrective comes in by itself where expressions meet, and goes when one of them does.</p>}
    </section>
  )
}

/** All others muted, or none. */
function Solo({ corrective, all, onMute }: { corrective: Corrective; all: Corrective[]; onMute: (steps: Step[]) => void }) {
  const others = all.filter((c) => c !== corrective).map((c) => c.name)
  const alone = !corrective.muted && all.every((c) => c === corrective || c.muted)
  const mute = (names: string[], muted: boolean): Step => ({ edit: 'shape.mute', params: { names, muted } })
  return (
    <button className="chip" aria-pressed={alone} aria-label={`${corrective.label} alone`} title={alone ? 'Let all of them act' : 'Mute all others'} onClick={() => onMute([mute(others, !alone), mute([corrective.name], false)])}>
      Solo
    </button>
  )
}

/** One of them, on its pose. */
function One({ character, corrective }: { character: CharacterOut; corrective: Corrective }) {
  const edit = useEdit(character)
  const { message } = App.useApp()
  const [sculpt, setSculpt] = useState(false)
  const goTo = useBench((s) => s.goTo)
  const { data: woken = [] } = useWoken(character, corrective.name)
  const { name, activation } = corrective
  const toPose = () => goTo(Object.fromEntries((activation.drivers ?? []).map((d) => [d.channel, d.full])))
  useEffect(() => toPose(), [name]) // eslint-disable-line react-hooks/exhaustive-deps -- gone to once, when it is opened
  const pick = () => {
    const skin = character.parts.find((p) => p.kind === 'skin')?.name
    const part = corrective.parts.find((p) => p === skin) ?? corrective.parts[0]!
    void fetchSelect(character.id, { revision: character.revision.number, part, vertices: [], how: 'shape', shape: name, low: 0.001, high: 1 })
      .then(({ vertices }) => useBench.getState().set({ selection: vertices.length ? { part, vertices } : null }))
      .catch((error: Error) => void message.error(error.message))
  }
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
        <Button size="small" disabled={!corrective.parts.length} title="The vertices that it moves" onClick={pick}>
          Pick
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
