import { Slider } from 'antd'
import type { ReactNode } from 'react'
import { NumberField } from './NumberField'

interface Props {
  id: string
  /** What is beside the slider, and what slider and number are called by themselves. */
  label: ReactNode
  name: string
  value: number
  low: number
  high: number
  /** Where it stands when nothing is asked for: the slider fills from there, and a double click on the label goes back to it. */
  rest: number
  step: number
  unit: string
  onChange: (value: number) => void
}

/** A value with its label, as a slider and as a number. */
export function ValueRow({ id, label, name, value, low, high, rest, step, unit, onChange }: Props) {
  const fromRest = { startPoint: rest } // Ant's slider hands it on, and does not say so
  return (
    <div className="control-row">
      <label htmlFor={id} title="Double click: back to its rest" onDoubleClick={() => onChange(rest)}>
        {label}
      </label>
      <Slider ariaLabelForHandle={name} min={low} max={high} step={step} value={value} tooltip={{ open: false }} marks={rest > low && rest < high ? { [rest]: { label: null } } : undefined} onChange={onChange} {...fromRest} />
      <NumberField id={id} label={name} value={value} low={low} high={high} unit={unit} onChange={onChange} />
    </div>
  )
}
