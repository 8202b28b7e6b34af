import { Button } from 'antd'
import type { CharacterOut, LimitOut } from '../../api/client'
import { useEdit } from '../../state/edits'
import { NumberField } from '../../ui/NumberField'

/** A limit a check is held against; changed for this character only. */
export function LimitRow({ character, limit }: { character: CharacterOut; limit: LimitOut }) {
  const edit = useEdit(character)
  const setTo = (value: number | null) => edit.mutate({ edit: 'checkin.set_limit', params: { limit: limit.key, value } })
  return (
    <div className="limit-row">
      <span>{limit.label}</span>
      {limit.own && (
        <Button size="small" type="text" title={`Back to the default: ${limit.ours} ${limit.unit}`} onClick={() => setTo(null)}>
          Default
        </Button>
      )}
      <NumberField
        label={limit.label}
        value={limit.value}
        low={limit.low}
        high={limit.high}
        unit={limit.unit}
        onChange={(value) => value !== limit.value && setTo(value)}
      />
    </div>
  )
}
