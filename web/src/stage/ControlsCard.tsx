import { Button, Slider } from 'antd'
import type { CharacterOut } from '../api/client'
import { useBench } from '../state/bench'
import { NumberField } from '../ui/NumberField'

/** A slider for each control; the head follows at once. */
export function ControlsCard({ character }: { character: CharacterOut }) {
  const open = useBench((s) => s.controlsOpen)
  const values = useBench((s) => s.values)
  const drag = useBench((s) => s.drag)
  const goToPose = useBench((s) => s.goToPose)
  if (!open || !character.controls.length) return null
  return (
    <section className="card controls-card" aria-label="Controls">
      <header>
        <h3>Controls</h3>
        <Button size="small" type="text" onClick={() => goToPose('neutral')}>
          All to rest
        </Button>
      </header>
      {character.controls.map((c) => {
        const value = values[c.name] ?? c.rest
        const step = c.unit === '°' ? 0.5 : 0.01
        return (
          <div className="control-row" key={c.name}>
            <label htmlFor={`control-${c.name}`} title={c.label}>
              {c.label}
            </label>
            <Slider
              ariaLabelForHandle={c.label}
              min={c.low}
              max={c.high}
              step={step}
              value={value}
              tooltip={{ open: false }}
              onChange={(v) => drag(c.name, v)}
            />
            <NumberField id={`control-${c.name}`} label={c.label} value={value} low={c.low} high={c.high} unit={c.unit ?? ''} onChange={(v) => drag(c.name, v)} />
          </div>
        )
      })}
    </section>
  )
}
