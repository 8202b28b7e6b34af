import { Button } from 'antd'
import { useState } from 'react'
import type { BoardEnd, BoardFinding, CharacterOut, MixReport } from '../../api/client'
import { useEdit } from '../../state/edits'
import { lookAtFinding, useMixView } from '../../state/mix'
import { WithReason } from '../../ui/Intention'
import { endOf, labelsOf } from './ends'

/** What is wrong in the cell that is looked at, and whether its two are swept together. */
export function CellCard({ character, report }: { character: CharacterOut; report: MixReport }) {
  const cell = useMixView((s) => s.cell)
  if (!cell) return null
  const [row, column] = cell
  const among = (f: BoardFinding) => (row === column ? f.ends.length === 1 && f.ends[0] === row : f.ends.includes(row) && f.ends.includes(column))
  const found = report.findings.filter(among)
  const [one, other] = [endOf(report, row), endOf(report, column)]
  const pair = one && other && one.control !== other.control
  if (!found.length && !pair) return null
  const label = labelsOf(report)
  return (
    <section aria-label="Of this cell" className="of-cell">
      <h3>{row === column ? label(row) : `${label(row)} × ${label(column)}`}</h3>
      <ul>
        {found.map((f) => (
          <li key={`${f.moment} ${f.title} ${f.vertex} ${f.limit}`}>
            <button className="bare" onClick={() => lookAtFinding(f)}>
              <b>{f.title}</b> <span className="quiet">{f.moment}:</span> {f.text}
              {f.intended != null && <i> Intended.</i>}
            </button>
          </li>
        ))}
      </ul>
      {pair && <Pairing key={`${row} ${column}`} character={character} report={report} one={one} other={other} />}
    </section>
  )
}

interface PairProps {
  character: CharacterOut
  report: MixReport
  one: BoardEnd
  other: BoardEnd
}

/** Whether two ends are swept together, and why not; a person may say otherwise. */
function Pairing({ character, report, one, other }: PairProps) {
  const edit = useEdit(character)
  const [leaving, setLeaving] = useState(false)
  const among = (ends: readonly string[]) => ends.includes(one.name) && ends.includes(other.name)
  const apart = report.apart.find((a) => among(a.ends))
  const said = character.mix!.pairings!.find((p) => (is(p.one, p.one_way, one) && is(p.other, p.other_way, other)) || (is(p.one, p.one_way, other) && is(p.other, p.other_way, one)))
  const say = (swept: boolean | null, why = '') =>
    edit.mutate({ edit: 'mix.set_pairing', params: { one: one.control, one_way: one.way, other: other.control, other_way: other.way, swept, reason: why } })
  if (said)
    return (
      <div className="row pairing">
        <span className="quiet">{said.swept ? 'Swept together: somebody said so.' : `Not swept together: ${said.reason}`}</span>
        <Button size="small" loading={edit.isPending} onClick={() => say(null)}>
          Leave it to what they do
        </Button>
      </div>
    )
  if (apart)
    return (
      <div className="row pairing">
        <span className="quiet">Not swept together: {apart.said}.</span>
        <Button size="small" loading={edit.isPending} onClick={() => say(true)}>
          Sweep them together
        </Button>
      </div>
    )
  if (!leaving)
    return (
      <Button size="small" type="text" onClick={() => setLeaving(true)}>
        Leave this pair out …
      </Button>
    )
  const leaveOut = (why: string) => {
    say(false, why)
    setLeaving(false)
  }
  return <WithReason autoFocus label="Why they never meet" placeholder="Why they never meet" action="Leave it out" pending={edit.isPending} onGiven={leaveOut} />
}

const is = (control: string, way: string, end: BoardEnd) => control === end.control && way === end.way
