import { Input, Tooltip } from 'antd'
import { useState } from 'react'
import { parseTyped, shown } from './typedNumber'

interface Props {
  id?: string
  label: string
  value: number
  low: number
  high: number
  /** '' for a plain number, '°', '%', a length, or a word such as 'rows'. */
  unit: string
  /** The value moves by itself: what is typed stays. */
  moving?: boolean
  onChange: (value: number) => void
}

/** A number with its unit. What was typed stays until it is right, Escape takes it back or the value moves under it. */
export function NumberField({ id, label, value, low, high, unit, moving = false, onChange }: Props) {
  const [entry, setEntry] = useState<{ text: string; over: number } | null>(null)
  const typed = entry && (moving || entry.over === value) ? entry.text : null
  const number = typed === null ? value : parseTyped(typed, unit)
  const wrong =
    number === null ? 'Type a number, with its unit if you like.' : number < low || number > high ? `From ${shown(low, unit)} to ${shown(high, unit)}.` : ''
  const take = () => {
    if (typed !== null && !wrong && number !== null) {
      onChange(number)
      setEntry(null)
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
        data-untouched={typed === null ? '' : undefined}
        onChange={(e) => setEntry({ text: e.target.value, over: value })}
        onFocus={(e) => e.target.select()}
        onBlur={take}
        onKeyDown={(e) => {
          if (typed !== null || !(e.ctrlKey || e.metaKey)) e.stopPropagation()
          if (e.key === 'Enter') take()
          if (e.key === 'Escape') setEntry(null)
        }}
      />
    </Tooltip>
  )
}
