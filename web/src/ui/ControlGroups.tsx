import type { CharacterOut, Control } from '../api/client'
import { useBench } from '../state/bench'
import { ValueRow } from './ValueRow'

const REGIONS: { key: CharacterOut['regions'][string]; label: string }[] = [
  { key: 'jaw', label: 'Jaw and lips' },
  { key: 'mouth', label: 'Mouth' },
  { key: 'eyes', label: 'Eyes' },
  { key: 'brows', label: 'Brows' },
  { key: 'tongue', label: 'Tongue' },
  { key: 'head', label: 'Head' },
  { key: 'other', label: 'Other' },
]

/** A slider for each of some controls, by the region that they move; the head follows at once. */
export function ControlGroups({ character, controls }: { character: CharacterOut; controls: Control[] }) {
  return REGIONS.map(({ key, label }) => {
    const own = controls.filter((c) => (character.regions[c.name] ?? 'other') === key)
    return (
      own.length > 0 && (
        <div key={key} className="control-region" role="group" aria-label={label}>
          <h3>{label}</h3>
          {own.map((control) => (
            <ControlRow key={control.name} control={control} />
          ))}
        </div>
      )
    )
  })
}

function ControlRow({ control: c }: { control: Control }) {
  const value = useBench((s) => s.values[c.name] ?? c.rest)
  const drag = useBench((s) => s.drag)
  return (
    <ValueRow id={`control-${c.name}`} label={c.label} name={c.label} value={value} low={c.low} high={c.high} rest={c.rest} step={c.unit === '°' ? 0.5 : 0.01} unit={c.unit ?? ''} onChange={(v) => drag(c.name, v)} />
  )
}
