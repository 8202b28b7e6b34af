import { Button, Checkbox } from 'antd'
import { NumberField } from '../NumberField'
import { deletable, moved, sloped, type CurveEditing } from './plane'

/** How a number of a key is said: what it is called, its unit, and how many of that unit are one. */
export interface Spoken {
  label: string
  name: string
  unit: string
  times: number
}

interface Props extends Pick<CurveEditing, 'keys' | 'picked' | 'plane' | 'onSet'> {
  at: Spoken
  value: Spoken
}

/** The picked key as numbers. */
export function CurveFields({ keys, picked, plane, at, value, onSet }: Props) {
  const key = keys[picked]
  if (!key) return <p className="quiet">No keys: nothing follows. A double click adds one.</p>
  const field = (said: Spoken, now: number, [low, high]: [number, number], give: (v: number) => void) => (
    <label>
      <span>{said.label}</span>
      <NumberField label={said.name} value={Math.round(now * said.times * 10) / 10} low={low * said.times} high={high * said.times} unit={said.unit} onChange={(v) => give(v / said.times)} />
    </label>
  )
  return (
    <div className="row">
      {field({ ...at, label: `Key ${picked + 1} at` }, key.at, plane.at, (v) => onSet(moved(keys, picked, { at: v, value: key.value }, plane)))}
      {field(value, key.value, plane.value, (v) => onSet(moved(keys, picked, { at: key.at, value: v }, plane)))}
      <Checkbox checked={key.slope != null} onChange={(e) => onSet(sloped(keys, picked, e.target.checked ? 0 : null))}>
        Own tangent
      </Checkbox>
      <Button size="small" aria-label="Delete the key" disabled={!deletable(keys, picked, plane)} onClick={() => onSet(keys.filter((_, j) => j !== picked))}>
        Delete
      </Button>
    </div>
  )
}
