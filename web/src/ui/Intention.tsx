import { Button, Input } from 'antd'
import { useState } from 'react'

const LEAST = 3 // letters of a reason

interface Props {
  /** Why it is meant, where somebody said so. */
  reason: string | null
  pending: boolean
  onIntend: (reason: string) => void
  onCount: () => void
}

/** Call what was found intended, with a reason, or let it count again. */
export function Intention({ reason, pending, onIntend, onCount }: Props) {
  const [typed, setTyped] = useState('')
  if (reason !== null)
    return (
      <div className="waiver">
        <span>
          Intended: <i>{reason}</i>
        </span>
        <Button size="small" loading={pending} onClick={onCount}>
          Count it again
        </Button>
      </div>
    )
  const wanting = typed.trim().length < LEAST
  const intend = () => !wanting && onIntend(typed)
  return (
    <div className="waiver">
      <Input
        size="small"
        aria-label="Why it is intended"
        placeholder="Intended? Say why"
        value={typed}
        maxLength={500}
        onChange={(e) => setTyped(e.target.value)}
        onKeyDown={(e) => e.stopPropagation()}
        onPressEnter={intend}
      />
      <Button size="small" disabled={wanting} loading={pending} onClick={intend}>
        Intended
      </Button>
    </div>
  )
}
