import { Button } from 'antd'
import type { CharacterOut } from '../../api/client'
import type { useEdit } from '../../state/edits'
import { useReliefNeeds } from '../../state/jaw'
import { mm } from '../../ui/names'

interface Props {
  character: CharacterOut
  edit: ReturnType<typeof useEdit>
}

/** Reliefs that the posed head asks for, each with what was measured and of the size that takes it back. */
export function ReliefNeeds({ character, edit }: Props) {
  const { data: needs, error } = useReliefNeeds(character)
  if (error || !needs?.length) return error ? <p className="madder">{error.message}</p> : null
  return (
    <section aria-label="Proposed reliefs">
      <p className="quiet">Jaw wide open, against the smoothest surface through the rim of each region:</p>
      {needs.map((n) => (
        <div className="proposal" key={n.preset}>
          <span>
            {n.label}
            <span className="quiet said num">
              {n.found} by {mm(n.size)}
            </span>
          </span>
          <Button size="small" disabled={edit.isPending} aria-label={`Add ${n.label} by ${mm(n.size)}`} onClick={() => edit.mutate({ edit: 'relief.preset', params: { preset: n.preset, cm: n.cm } })}>
            Add
          </Button>
        </div>
      ))}
    </section>
  )
}
