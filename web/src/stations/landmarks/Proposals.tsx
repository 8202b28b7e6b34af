import { useQuery } from '@tanstack/react-query'
import { Button, Checkbox, Spin } from 'antd'
import { useState } from 'react'
import { fetchProposals, type CharacterOut, type EyeSeat, type Proposal, type Step } from '../../api/client'
import { useEdit } from '../../state/edits'
import { depthSaid, mm, partLabel } from '../../ui/names'

interface Props {
  character: CharacterOut
  seat: EyeSeat
  others: EyeSeat[]
}

/** Edits that would seat an eye better, each with the worst contact before and after. They are found by many sweeps, so they come later. */
export function Proposals({ character, seat, others }: Props) {
  const { id, revision } = character
  const edit = useEdit(character)
  const [both, setBoth] = useState(true)
  const { data, error } = useQuery({
    queryKey: ['proposals', id, revision.number, seat.side],
    queryFn: ({ signal }) => fetchProposals(id, revision.number, seat.side, signal),
    retry: false,
  })
  const parts = both ? [seat.part, ...others.map((s) => s.part)] : [seat.part]
  const stepOf = (p: Proposal) => ({ edit: p.edit, params: { ...p.params, parts } }) as Step
  return (
    <section aria-label="Proposals">
      <header className="panel-head">
        <h3>Proposals</h3>
        {others.length > 0 && (
          <Checkbox checked={both} onChange={(e) => setBoth(e.target.checked)}>
            both eyes alike
          </Checkbox>
        )}
      </header>
      {error && <p className="madder">{error.message}</p>}
      {!data && !error && (
        <p className="quiet">
          <Spin size="small" /> Trying what would help over the whole sweep …
        </p>
      )}
      {data?.length === 0 && <p className="quiet">Round, centred and clear of the lids in every gaze: nothing to propose.</p>}
      {data?.map((p) => (
        <div className="proposal" key={p.edit}>
          <span>
            {p.text}
            <span className="quiet said num">
              {depthSaid(p.before)} → <span className={p.after > 0 ? 'madder' : ''}>{depthSaid(p.after)}</span>
              {p.moves > 0.005 && `, moves ${mm(p.moves)}`}
            </span>
          </span>
          <Button size="small" loading={edit.isPending} onClick={() => edit.mutate(stepOf(p))} aria-label={`${p.text} for ${parts.map(partLabel).join(' and ')}`}>
            Repair
          </Button>
        </div>
      ))}
    </section>
  )
}
