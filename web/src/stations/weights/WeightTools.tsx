import { Button, Checkbox, Select } from 'antd'
import { useState } from 'react'
import type { CharacterOut, Step } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { NumberField } from '../../ui/NumberField'
import { Levels } from './Levels'

/** Edits of the chosen bone's weights on the selection, and of all weights there. */
export function WeightTools({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const selection = useBench((s) => s.selection)
  const bone = useBench((s) => s.weightBone)
  const locked = useBench((s) => s.locked)
  const mirror = useBench((s) => s.mirror)
  const keepTotal = useBench((s) => s.keepTotal)
  const set = useBench((s) => s.set)
  const [value, setValue] = useState(50)
  const [step, setStep] = useState(10)
  const [factor, setFactor] = useState(120)
  const [steps, setSteps] = useState(3)
  const [most, setMost] = useState(4)
  const [below, setBelow] = useState(1)
  const [to, setTo] = useState('head')
  const label = character.bones.find((b) => b.name === bone)?.label ?? bone
  const off = !selection || edit.isPending
  const common = { part: selection?.part ?? '', vertices: selection?.vertices ?? [], locked, mirror }
  const one = { ...common, bone, keep_total: keepTotal }
  const run = (step: Step) => edit.mutate(step)
  return (
    <section aria-label="Edit weights" aria-busy={edit.isPending}>
      <div className="row bone-shows">
        <Checkbox checked={mirror} onChange={(e) => set({ mirror: e.target.checked })}>
          Mirror (M)
        </Checkbox>
        <Checkbox checked={keepTotal} onChange={(e) => set({ keepTotal: e.target.checked })}>
          Keep totals at 1
        </Checkbox>
      </div>
      <h3>{label} here</h3>
      <Line value={value} label="Set to" unit="%" high={100} onChange={setValue}>
        <Button size="small" type="primary" disabled={off} onClick={() => run({ edit: 'weights.set', params: { ...one, value: value / 100 } })}>
          Set
        </Button>
      </Line>
      <Line value={step} label="By" unit="%" high={100} onChange={setStep}>
        <Button size="small" disabled={off} onClick={() => run({ edit: 'weights.add', params: { ...one, amount: step / 100 } })}>
          Add
        </Button>
        <Button size="small" disabled={off} onClick={() => run({ edit: 'weights.add', params: { ...one, amount: -step / 100 } })}>
          Take away
        </Button>
      </Line>
      <Line value={factor} label="Times" unit="%" high={1000} onChange={setFactor}>
        <Button size="small" disabled={off} onClick={() => run({ edit: 'weights.multiply', params: { ...one, factor: factor / 100 } })}>
          Multiply
        </Button>
      </Line>
      <div className="weight-line">
        <Button size="small" disabled={off || to === bone} onClick={() => run({ edit: 'weights.move', params: { ...common, bone, to, share: 1 } })}>
          Give it all to
        </Button>
        <Select size="small" aria-label="Give it all to" value={to} popupMatchSelectWidth={false} onChange={setTo} options={character.bones.filter((b) => b.role === 'deform').map((b) => ({ value: b.name, label: b.label }))} />
        <Button size="small" disabled={off || to === bone} title="Both change places" onClick={() => run({ edit: 'weights.swap', params: { ...common, bone, to } })}>
          Swap
        </Button>
      </div>
      <Levels off={off} onGive={(levels) => run({ edit: 'weights.remap', params: { ...one, ...levels } })} />
      <h3>All weights here</h3>
      <Line value={steps} label="Steps" unit="steps" low={1} high={100} onChange={(v) => setSteps(Math.round(v))}>
        <Button size="small" disabled={off} onClick={() => run({ edit: 'weights.smooth', params: { ...common, strength: 0.5, steps } })}>
          Smooth
        </Button>
        <Button size="small" disabled={off} title="Smooth the weights of the chosen bone only" onClick={() => run({ edit: 'weights.smooth', params: { ...common, bone, strength: 0.5, steps } })}>
          This bone only
        </Button>
      </Line>
      <Line value={most} label="At most" unit="bones" low={1} high={8} onChange={(v) => setMost(Math.round(v))}>
        <Button size="small" disabled={off} onClick={() => run({ edit: 'weights.cap', params: { ...common, most } })}>
          Cap
        </Button>
      </Line>
      <Line value={below} label="Below" unit="%" low={0.1} high={50} onChange={setBelow}>
        <Button size="small" disabled={off} onClick={() => run({ edit: 'weights.clean', params: { ...common, below: below / 100 } })}>
          Clean
        </Button>
      </Line>
      <div className="skeleton-tools">
        <Button size="small" disabled={off} onClick={() => run({ edit: 'weights.sharpen', params: { ...common, amount: 0.5 } })}>
          Sharpen
        </Button>
        <Button size="small" disabled={off} onClick={() => run({ edit: 'weights.even', params: { ...common, by: 'selection' } })}>
          Even out
        </Button>
        <Button size="small" disabled={off} onClick={() => run({ edit: 'weights.normalise', params: common })}>
          Totals to 1
        </Button>
        <Button size="small" disabled={off} onClick={() => run({ edit: 'weights.copy_across', params: { ...common, mirror: false } })}>
          Copy to the other side
        </Button>
      </div>
    </section>
  )
}

interface LineProps {
  label: string
  value: number
  unit: string
  low?: number
  high: number
  onChange: (value: number) => void
  children: React.ReactNode
}

function Line({ label, value, unit, low = 0, high, onChange, children }: LineProps) {
  return (
    <div className="weight-line">
      <span>{label}</span>
      <NumberField label={label} value={value} low={low} high={high} unit={unit} onChange={onChange} />
      {children}
    </div>
  )
}
