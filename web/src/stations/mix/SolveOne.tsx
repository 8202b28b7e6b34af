import { Button, Select } from 'antd'
import { useState } from 'react'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { NumberField } from '../../ui/NumberField'
import { counted } from '../../ui/names'

const PICKED = ''

interface Props {
  character: CharacterOut
  values: Record<string, number>
  /** Is anything away from rest? */
  posed: boolean
  onSolved: (name: string) => void
}

/** A corrective solved on the pose on the stage: what is picked laid smooth, or the skin held out of a part. */
export function SolveOne({ character, values, posed, onSolved }: Props) {
  const edit = useEdit(character)
  const selection = useBench((s) => s.selection)
  const [held, setHeld] = useState(PICKED)
  const [within, setWithin] = useState(3)
  const skin = character.parts.find((p) => p.kind === 'skin')
  if (!skin) return null
  const seams = character.seams.filter((s) => (s.measure === 'solid' || s.measure === 'clear') && [s.probe, s.solid].includes(skin.name))
  const picked = selection?.part === skin.name ? selection.vertices : []
  const missing = !posed ? 'Pose the head as it is to be corrected first' : !held && !picked.length ? 'Pick the skin that is to be laid smooth first' : null
  const solve = () =>
    edit.mutate(
      { edit: 'corrective.solve', params: { values, vertices: held ? [] : picked, held: held || null, also: [], reach: within, mixed: 'product', mirror: false } },
      { onSuccess: (after) => onSolved(after.shapes.at(-1)!.name) },
    )
  return (
    <div className="row solve-one" role="group" aria-label="Solve one on this pose">
      <Select
        size="small"
        aria-label="What it does"
        value={held}
        onChange={setHeld}
        options={[{ value: PICKED, label: picked.length ? `Lays smooth ${counted(picked.length, 'picked vertex', 'picked vertices')}` : 'Lays smooth what is picked' }, ...seams.map((s) => ({ value: s.name, label: `Holds apart ${s.label}` }))]}
      />
      <span className="quiet">within</span>
      <NumberField label="How far round it may move" value={within} low={0.2} high={10} unit="cm" onChange={setWithin} />
      <Button size="small" disabled={missing !== null} loading={edit.isPending} title={missing ?? 'The least bending that does it; driven by all that is away from rest'} onClick={solve}>
        Solve
      </Button>
    </div>
  )
}
