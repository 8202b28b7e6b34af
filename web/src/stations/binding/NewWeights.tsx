import { Button, Checkbox, Select } from 'antd'
import { useEffect, useState } from 'react'
import type { CharacterOut, PartOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { partLabel } from '../../ui/names'
import { EnvelopeRow } from './EnvelopeRow'

const WAYS = [
  { value: 'heat', label: 'Heat over the surface' },
  { value: 'envelope', label: 'Envelopes' },
  { value: 'straight', label: 'Nearest bone, straight' },
  { value: 'none', label: 'None' },
] as const
type Way = (typeof WAYS)[number]['value']
const SAID: Record<Way, string> = {
  heat: 'By landmarks, along the skin: a hard head, lips and lids that come apart.',
  envelope: 'By capsules about the bones, wherever they reach.',
  straight: 'By the nearest bone through the air. Quick, and lips stick together.',
  none: 'Takes every weight away.',
}

/** Weights of a part made anew, for all of it or for the selection; bones that are locked at Weights keep theirs. */
export function NewWeights({ character, part }: { character: CharacterOut; part: PartOut }) {
  const edit = useEdit(character)
  const selection = useBench((s) => s.selection)
  const locked = useBench((s) => s.locked)
  const set = useBench((s) => s.set)
  const [how, setHow] = useState<Way>('heat')
  const [some, setSome] = useState(false)
  const others = character.parts.filter((p) => p.name !== part.name && p.influences.length > 0)
  const [source, setSource] = useState(others.find((p) => p.kind === 'skin')?.name ?? others[0]?.name)
  const own = selection?.part === part.name ? selection.vertices : null
  const common = { part: part.name, locked, vertices: some && own ? own : null }
  useEffect(() => {
    set({ envelopes: how === 'envelope' })
    return () => set({ envelopes: false })
  }, [how, set])
  return (
    <section aria-label="New weights" aria-busy={edit.isPending}>
      <h3>New weights</h3>
      <div className="weight-line">
        <Select size="small" aria-label="How" value={how} onChange={setHow} options={[...WAYS]} popupMatchSelectWidth={false} />
        <Button size="small" type="primary" loading={edit.isPending} onClick={() => edit.mutate({ edit: 'binding.weigh', params: { ...common, how } })}>
          {how === 'none' ? 'Take away' : 'Make weights'}
        </Button>
      </div>
      <p className="quiet said">{SAID[how]}</p>
      {how === 'envelope' && <EnvelopeRow character={character} edit={edit} />}
      {others.length > 0 && (
        <div className="weight-line">
          <Select size="small" aria-label="Copy from" value={source} onChange={setSource} options={others.map((p) => ({ value: p.name, label: partLabel(p.name) }))} popupMatchSelectWidth={false} />
          <Button size="small" disabled={!source} title="From the nearest places of its surface" onClick={() => edit.mutate({ edit: 'binding.transfer', params: { ...common, source: source! } })}>
            Copy its weights
          </Button>
        </div>
      )}
      {own && (
        <Checkbox checked={some} onChange={(e) => setSome(e.target.checked)}>
          Only the {own.length.toLocaleString('en-GB')} selected
        </Checkbox>
      )}
      {locked.length > 0 && (
        <p className="quiet said">Held: {locked.map((name) => character.bones.find((b) => b.name === name)?.label ?? name).join(', ')}. Unlock them at Weights.</p>
      )}
    </section>
  )
}
