import { Input, Tooltip } from 'antd'
import { useState } from 'react'

interface Props {
  id?: string
  label: string
  value: number
  low: number
  high: number
  /** '' for a plain number, '°', '%', a length, or a word such as 'rows'. */
  unit: string
  onChange: (value: number) => void
}

const FORM = /^\s*([+-]?\d+(?:[.,]\d+)?)\s*(\S.*?)?\s*$/
const LENGTHS: Record<string, number> = { mm: 1, cm: 10, m: 1000 }

/** The number somebody typed, with or without its unit; null where it cannot be one. "40 %" of a plain range is 0.4, "0.1 cm" is 1 mm. */
export function parseTyped(text: string, unit: string): number | null {
  const found = FORM.exec(text)
  if (!found) return null
  const value = Number(found[1]!.replace(',', '.'))
  const given = found[2] === 'deg' ? '°' : (found[2] ?? unit)
  if (given === unit) return value
  if (given === '%' && unit === '') return value / 100
  const [from, to] = [LENGTHS[given], LENGTHS[unit]]
  return from && to ? (value * from) / to : null
}

function shown(value: number, unit: string): string {
  if (unit === '°') return `${Number(value.toFixed(1))}°`
  if (unit === '%') return `${Math.round(value)} %`
  return unit ? `${Number(value.toFixed(3))} ${unit}` : value.toFixed(2)
}

/** A number with its unit. What was typed stays until it is right or Escape takes it back. */
export function NumberField({ id, label, value, low, high, unit, onChange }: Props) {
  const [typed, setTyped] = useState<string | null>(null)
  const number = typed === null ? value : parseTyped(typed, unit)
  const wrong =
    number === null ? 'Type a number, with its unit if you like.' : number < low || number > high ? `From ${shown(low, unit)} to ${shown(high, unit)}.` : ''
  const take = () => {
    if (typed !== null && !wrong && number !== null) {
      onChange(number)
      setTyped(null)
    }
  }
  return (
    <Tooltip title={wrong} open={typed !== null && wrong !== ''} placement="left">
      <Input
        id={id}
        size="small"
        className="num"
        aria-label={`${label}, number`}
        status={wrong && typed !== null ? 'error' : ''}
        value={typed ?? shown(value, unit)}
        onChange={(e) => setTyped(e.target.value)}
        onFocus={(e) => e.target.select()}
        onBlur={take}
        onKeyDown={(e) => {
          e.stopPropagation()
          if (e.key === 'Enter') take()
          if (e.key === 'Escape') setTyped(null)
        }}
      />
    </Tooltip>
  )
}
