import { Button, Input } from 'antd'
import { useState } from 'react'
import type { CharacterOut, Check } from '../../api/client'
import { useEdit } from '../../state/edits'

const LEAST = 3 // letters of a reason

/** Call what a check found intended, with a reason, or let it count again. */
export function Waiver({ character, check }: { character: CharacterOut; check: Check }) {
  const edit = useEdit(character)
  const [reason, setReason] = useState('')
  if (check.waived != null)
    return (
      <div className="waiver">
        <span>
          Intended: <i>{check.waived}</i>
        </span>
        <Button size="small" loading={edit.isPending} onClick={() => edit.mutate({ edit: 'checkin.unwaive', params: { check: check.key } })}>
          Count it again
        </Button>
      </div>
    )
  const wanting = reason.trim().length < LEAST
  const waive = () => !wanting && edit.mutate({ edit: 'checkin.waive', params: { check: check.key, reason } })
  return (
    <div className="waiver">
      <Input
        size="small"
        aria-label="Why it is intended"
        placeholder="Intended? Say why"
        value={reason}
        maxLength={500}
        onChange={(e) => setReason(e.target.value)}
        onKeyDown={(e) => e.stopPropagation()}
        onPressEnter={waive}
      />
      <Button size="small" disabled={wanting} loading={edit.isPending} onClick={waive}>
        Intended
      </Button>
    </div>
  )
}
