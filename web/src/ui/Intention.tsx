import { Button, Input } from 'antd'
import { useState } from 'react'

const LEAST = 3 // letters of a reason

interface ReasonProps {
  label: string
  placeholder: string
  /** What the button says. */
  action: string
  pending: boolean
  autoFocus?: boolean
  onGiven: (reason: string) => void
}

/** Something that is done with a reason alone. */
export function WithReason({ label, placeholder, action, pending, autoFocus, onGiven }: ReasonProps) {
  const [typed, setTyped] = useState('')
  const wanting = typed.trim().length < LEAST
  const give = () => !wanting && onGiven(typed)
  return (
    <div className="waiver">
      <Input
        size="small"
        autoFocus={autoFocus}
        aria-label={label}
        placeholder={placeholder}
        value={typed}
        maxLength={500}
        onChange={(e) => setTyped(e.target.value)}
        onKeyDown={(e) => e.stopPropagation()}
        onPressEnter={give}
      />
      <Button size="small" disabled={wanting} loading={pending} onClick={give}>
        {action}
      </Button>
    </div>
  )
}

/** Calls what was found intended. */
export const Intend = ({ pending, onIntend }: { pending: boolean; onIntend: (reason: string) => void }) => (
  <WithReason label="Why it is intended" placeholder="Intended? Say why" action="Intended" pending={pending} onGiven={onIntend} />
)

/** Why it was, until it counts again. */
export const Intended = ({ reason, pending, onCount }: { reason: string; pending: boolean; onCount: () => void }) => (
  <div className="waiver">
    <span>
      Intended: <i>{reason}</i>
    </span>
    <Button size="small" loading={pending} onClick={onCount}>
      Count it again
    </Button>
  </div>
)
