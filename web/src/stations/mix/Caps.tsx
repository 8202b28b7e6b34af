import { App, Button, Checkbox } from 'antd'
import { useState } from 'react'
import { fetchSelect, type CapOut, type CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { useAsked } from '../../state/pull'
import { counted, partLabel } from '../../ui/names'
import { NumberField } from '../../ui/NumberField'

const MOST = 100 // mm

/** How far expressions add up at some vertices. */
export function Caps({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const { message } = App.useApp()
  const pick = ({ name, part }: CapOut) =>
    void fetchSelect(character.id, { revision: character.revision.number, part, vertices: [], how: 'cap', cap: name, low: 0.001, high: 1 })
      .then(({ vertices }) => useBench.getState().set({ selection: { part, vertices } }))
      .catch((error: Error) => void message.error(error.message))
  return (
    <section className="needs caps" aria-label="Together no farther" aria-busy={edit.isPending}>
      <h3>
        Together no farther <span className="quiet num">{character.caps.length}</span>
      </h3>
      <ul>
        {character.caps.map((cap) => (
          <li key={cap.name} className="row" aria-label={cap.label}>
            <button className="bare" title="Pick its vertices" onClick={() => pick(cap)}>
              {cap.label} <span className="quiet num">{counted(cap.vertices, 'vertex', 'vertices')}</span>
            </button>
            <Amounts label={cap.label} mm={cap.cm * 10} soft={cap.soft * 10} onChange={(changed) => edit.mutate({ edit: 'cap.set', params: { name: cap.name, ...inCm(changed) } })} />
            <Button size="small" type="text" aria-label={`Remove ${cap.label}`} title="Let expressions add up again" onClick={() => edit.mutate({ edit: 'cap.remove', params: { name: cap.name } })}>
              ×
            </Button>
          </li>
        ))}
      </ul>
      <NewCap pending={edit.isPending} onAdd={(params) => edit.mutate({ edit: 'cap.add', params })} />
    </section>
  )
}

interface Amount {
  mm?: number
  soft?: number
}

const inCm = ({ mm, soft }: Amount) => ({ ...(mm === undefined ? {} : { cm: mm / 10 }), ...(soft === undefined ? {} : { soft: soft / 10 }) })

function Amounts({ label, mm, soft, onChange }: { label: string; mm: number; soft: number; onChange: (changed: Amount) => void }) {
  return (
    <>
      <NumberField label={`${label}: together no farther than`} value={mm} low={0} high={MOST} unit="mm" onChange={(v) => onChange({ mm: v })} />
      <span className="quiet" title="Of what is beyond, less and less is let through: so much at most">
        soft
      </span>
      <NumberField label={`${label}: soft over`} value={soft} low={0} high={MOST} unit="mm" onChange={(v) => onChange({ soft: v })} />
    </>
  )
}

interface NewProps {
  pending: boolean
  onAdd: (params: { part: string; vertices: number[]; cm: number; soft: number; fades: number; label: string; mirror: boolean }) => void
}

function NewCap({ pending, onAdd }: NewProps) {
  const asked = useAsked()
  const [amount, setAmount] = useState({ mm: 0, soft: 1 })
  const [fades, setFades] = useState(10)
  const [mirror, setMirror] = useState(true)
  const add = () => asked && onAdd({ part: asked.part, vertices: asked.vertices, cm: amount.mm / 10, soft: amount.soft / 10, fades: fades / 10, label: '', mirror })
  return (
    <div className="new-need" role="group" aria-label="New cap">
      <p className="quiet said">
        Where expressions add up, they bring what is picked no farther together than this, or than one of them does by itself. The neutral, single expressions and correctives stay as they are.
      </p>
      <Amounts label="New cap" mm={amount.mm} soft={amount.soft} onChange={(changed) => setAmount({ ...amount, ...changed })} />
      <span className="quiet">fades over</span>
      <NumberField label="New cap: fades over" value={fades} low={0} high={200} unit="mm" onChange={setFades} />
      <Checkbox checked={mirror} onChange={(e) => setMirror(e.target.checked)}>
        Both sides
      </Checkbox>
      <Button size="small" disabled={!asked} loading={pending} title={asked ? undefined : 'Pick the vertices first'} onClick={add}>
        {asked ? `Cap ${counted(asked.vertices.length, 'vertex', 'vertices')} of ${partLabel(asked.part)}` : 'Cap'}
      </Button>
    </div>
  )
}
