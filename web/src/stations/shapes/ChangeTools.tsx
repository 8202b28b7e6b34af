import { Button } from 'antd'
import { useState } from 'react'
import type { CharacterOut, ShapesOut, Step } from '../../api/client'
import { shownValues, useBench } from '../../state/bench'
import { strengthOf } from '../../state/known'
import type { useEdit } from '../../state/edits'
import { NumberField } from '../../ui/NumberField'
import { counted, partLabel } from '../../ui/names'
import { OrderList } from './OrderList'
import { PoseAndShape } from './PoseAndShape'

interface Props {
  character: CharacterOut
  names: string[]
  shapes: ShapesOut
  edit: ReturnType<typeof useEdit>
}

/** What makes other shapes of the chosen ones. */
export function ChangeTools({ character, names, shapes, edit }: Props) {
  const [soft, setSoft] = useState(6)
  const [by, setBy] = useState(100)
  const [at, setAt] = useState(50)
  const values = useBench(shownValues)
  const name = names.at(-1)
  if (!name) return <OrderList orders={shapes.orders} edit={edit} />
  const button = (label: string, title: string, step: Step, disabled = false) => (
    <Button key={label} size="small" disabled={disabled || edit.isPending} title={title} onClick={() => edit.mutate(step)}>
      {label}
    </Button>
  )
  const moved = shapes.rows.find((row) => row.name === name)?.parts ?? {}
  const alone = Object.entries(shapes.alone).filter(([part]) => part in moved).map(([part, count]) => `${counted(count, 'vertex', 'vertices')} of ${partLabel(part)}`)
  // at its present strength, and at full strength where it is at rest
  const terms = names.map((shape) => ({ shape, strength: values[strengthOf(shape)] || 1 }))
  const mixed = terms.map((t) => `${t.strength === 1 ? '' : `${t.strength} × `}${t.shape}`).join(' + ')
  return (
    <div className="shape-tools">
      <div className="row">
        {button('Left to right', 'Copy what its left does to its right', { edit: 'shape.mirror', params: { name, of: 'L' } })}
        {button('Right to left', 'Copy what its right does to its left', { edit: 'shape.mirror', params: { name, of: 'R' } })}
        {button('Flip', 'What its left did its right does, and the other way round', { edit: 'shape.flip', params: { name } })}
      </div>
      {alone.length > 0 && <p className="quiet said">Nothing on the other side stands for {alone.join(', ')}; these stay as they are.</p>}
      <div className="row">
        {button('Split', 'Two new shapes that add up to it', { edit: 'shape.split', params: { name, soft: soft / 10 } })}
        <span>softly over</span>
        <NumberField label="Softness of the middle" value={soft} low={0} high={200} unit="mm" onChange={setSoft} />
      </div>
      <div className="row">
        {button('Scale', 'So many times as strong', { edit: 'shape.scale', params: { name, by: by / 100 } }, by === 100)}
        <span>to</span>
        <NumberField label="Scale of the shape" value={by} low={-1000} high={1000} unit="%" onChange={setBy} />
      </div>
      <div className="row">
        {button('In-between', 'A new shape that comes in around this strength of it', { edit: 'shape.between', params: { name, at: at / 100 } })}
        <span>at</span>
        <NumberField label="Strength of the in-between" value={at} low={3} high={97} unit="%" onChange={setAt} />
      </div>
      <div className="row">
        {button('Add up', 'A new shape that does what all chosen ones do, at their present strengths', { edit: 'shape.add_up', params: { name: names.join(' '), terms } }, names.length < 2)}
        <span className="quiet">{names.length < 2 ? 'Choose several shapes to add up; at a strength below 0 one is taken away.' : mixed}</span>
      </div>
      <PoseAndShape character={character} name={name} edit={edit} />
      {names.length > 1 && <p className="quiet said">All but Add up works on the last one chosen of {counted(names.length, 'shape')}.</p>}
      <OrderList orders={shapes.orders} edit={edit} />
    </div>
  )
}
