import { Button, Select } from 'antd'
import { useState } from 'react'
import type { CharacterOut, Finding, PartOut, Step } from '../../api/client'
import { useBench } from '../../state/bench'
import { useFindings } from '../../state/findings'
import { stationOf } from '../../state/seams'
import { useEdit } from '../../state/edits'
import { partLabel, percent } from '../../ui/names'
import { PullList } from '../PullList'
import { NewWeights } from './NewWeights'
import { Islands } from './Islands'
import { RideRow } from './RideRow'
import { CsvWeights } from './CsvWeights'
import { WeightFindings } from './WeightFindings'

const CARRIERS = { rigid: 'rigid', chain: 'chain', weighted: 'weights', ride: 'riding', none: 'nothing' } as const
const TINTS = ['var(--spruce)', 'var(--saffron)', 'var(--slate)', 'var(--ochre)', 'var(--plum)']

/** What carries each part, how much, and how to change it. */
export function BindingPanel({ character }: { character: CharacterOut }) {
  const findings = useFindings()
  const selected = useBench((s) => s.selectedPart)
  const set = useBench((s) => s.set)
  const labels = Object.fromEntries(character.bones.map((b) => [b.name, b.label]))
  const faults = (part: string) =>
    findings.filter((f) => character.seams.some((s) => s.name === f.about && stationOf(s) === 'binding') && f.part === part)
  const open = character.parts.find((p) => p.name === selected)
  if (!character.bones.length)
    return (
      <section>
        <h2>Binding</h2>
        <p className="quiet">Nothing can be bound yet: this head has no bones. Check it in first; bones are built at Landmarks.</p>
      </section>
    )
  return (
    <section>
      <h2>Binding</h2>
      <p className="quiet" style={{ margin: '2px 0 8px' }}>
        What carries each part. Pick one to change its carrier.
      </p>
      <WeightFindings character={character} />
      {character.parts.map((part) => (
        <button
          key={part.name}
          className={`bare part-row ${selected === part.name ? 'open' : ''}`}
          aria-expanded={selected === part.name}
          onClick={() => set({ selectedPart: selected === part.name ? null : part.name })}
        >
          <span>
            <span>
              {faults(part.name).length > 0 && <span className="dot over" style={{ display: 'inline-block', marginRight: 6 }} />}
              {partLabel(part.name)}
            </span>
            <span className="quiet">{part.influences.map((i) => `${labels[i.bone]} ${percent(i.share)}`).slice(0, 2).join(', ') || (part.rides_on ? `rides on ${partLabel(part.rides_on)}` : 'nothing carries it')}</span>
          </span>
          <Share part={part} labels={labels} />
        </button>
      ))}
      {open && <Carrier key={`${open.name} ${open.influences[0]?.bone}`} character={character} part={open} findings={faults(open.name)} labels={labels} />}
      <PullList character={character} />
    </section>
  )
}

function Share({ part, labels }: { part: PartOut; labels: Record<string, string> }) {
  return (
    <span className="share" title={`${CARRIERS[part.carrier]}: ${part.influences.map((i) => `${labels[i.bone]} ${percent(i.share)}`).join(', ')}`}>
      {part.influences.map((i, k) => (
        <span key={i.bone} style={{ width: `${i.share * 100}%`, background: TINTS[k % TINTS.length] }} />
      ))}
    </span>
  )
}

interface CarrierProps {
  character: CharacterOut
  part: PartOut
  findings: Finding[]
  labels: Record<string, string>
}

function Carrier({ character, part, findings, labels }: CarrierProps) {
  const edit = useEdit(character)
  const goToPose = useBench((s) => s.goToPose)
  const set = useBench((s) => s.set)
  const [bone, setBone] = useState<string | undefined>(part.influences[0]?.bone)
  const chain = part.expected.length > 1 ? part.expected : null
  const deforming = character.bones.filter((b) => b.role === 'deform')
  const already = part.carrier === 'rigid' && part.influences.length === 1 && part.influences[0]?.bone === bone
  return (
    <div aria-label={`Carrier of ${partLabel(part.name)}`}>
      <h3>
        {partLabel(part.name)} <span className="quiet num" style={{ fontWeight: 400 }}>{part.kind} · {part.vertices.toLocaleString('en-GB')} vertices</span>
      </h3>
      {findings.map((f) => (
        <div className="finding" key={f.about}>
          <b>{f.title}</b>
          <p>{f.text}</p>
          <div className="row">
            {(f.repairs ?? []).map((r) => (
              <Button
                key={r.text}
                size="small"
                type="primary"
                loading={edit.isPending}
                onClick={() => edit.mutate({ edit: r.edit, params: r.params } as Step)}
              >
                {r.text}
              </Button>
            ))}
            <Button
              size="small"
              type="text"
              title="Go to the pose and list what holds the worst vertex back"
              onClick={() => {
                if (f.pose) goToPose(f.pose)
                if (f.part) set({ pick: { part: f.part, vertex: f.vertices?.[0] ?? 0 }, selection: null, seam: f.about })
              }}
            >
              Show why
            </Button>
          </div>
        </div>
      ))}
      <div className="row" style={{ marginTop: 8 }}>
        <Select
          aria-label="Bone"
          style={{ flex: 1 }}
          value={bone}
          placeholder="Choose a bone"
          onChange={setBone}
          options={deforming.map((b) => ({ value: b.name, label: b.label }))}
        />
        <Button
          disabled={!bone || already || part.kind === 'skin'}
          loading={edit.isPending}
          title={part.kind === 'skin' ? 'Skin needs weights; a rigid skin could not deform' : already ? 'It is carried by this bone already' : ''}
          onClick={() => bone && edit.mutate({ edit: 'binding.set_carrier', params: { part: part.name, carrier: 'rigid', bones: [bone] } })}
        >
          Bind
        </Button>
      </div>
      {chain && part.carrier !== 'chain' && (
        <Button
          style={{ marginTop: 6 }}
          onClick={() => edit.mutate({ edit: 'binding.set_carrier', params: { part: part.name, carrier: 'chain', bones: chain } })}
        >
          Bind along {chain.map((b) => labels[b]).join(', ')}
        </Button>
      )}
      {part.kind !== 'skin' && <RideRow key={`ride ${part.name} ${part.rides_on}`} character={character} part={part} />}
      {!part.rides_on && <Islands character={character} part={part} />}
      <NewWeights key={part.name} character={character} part={part} />
      <CsvWeights character={character} part={part} />
    </div>
  )
}
