import { Input } from 'antd'
import { useState } from 'react'

interface Props {
  label: string
  value: string
  /** The new name, or null where it stays as it was. */
  onDone: (name: string | null) => void
}

/** A name in place, being changed: Enter or a click elsewhere takes it, Escape leaves it. */
export function NameField({ label, value, onDone }: Props) {
  const [name, setName] = useState(value)
  const wanted = name.trim()
  const take = () => onDone(wanted && wanted !== value ? wanted : null)
  return (
    <Input
      autoFocus
      size="small"
      className="name-field"
      aria-label={label}
      value={name}
      maxLength={80}
      onChange={(e) => setName(e.target.value)}
      onFocus={(e) => e.target.select()}
      onClick={(e) => e.stopPropagation()}
      onBlur={take}
      onKeyDown={(e) => {
        e.stopPropagation()
        if (e.key === 'Enter') take()
        if (e.key === 'Escape') onDone(null)
      }}
    />
  )
}
