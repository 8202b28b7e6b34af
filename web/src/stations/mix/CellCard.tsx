import { Button, Input } from 'antd'
import { useState } from 'react'
import type { BoardEnd, BoardFinding, CharacterOut, MixReport } from '../../api/client'
import { useEdit } from '../../state/edits'
import { lookAtFinding, useMixView } from '../../state/mix'
import { WHY } from './boardModel'
import { endOf, labelsOf } from './ends'

const LEAST = 3 // letters of a reason

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
  const [reason, setReason] = useState<string | null>(null)
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
        <span className="quiet">Not swept together: {WHY[apart.why](apart)}.</span>
        <Button size="small" loading={edit.isPending} onClick={() => say(true)}>
          Sweep them together
        </Button>
      </div>
    )
  if (reason === null)
    return (
      <Button size="small" type="text" onClick={() => setReason('')}>
        Leave this pair out …
      </Button>
    )
  const wanting = reason.trim().length < LEAST
  const leaveOut = () => {
    if (wanting) return
    say(false, reason)
    setReason(null)
  }
  return (
    <div className="row pairing">
      <Input size="small" autoFocus aria-label="Why they never meet" placeholder="Why they never meet" value={reason} maxLength={500} onChange={(e) => setReason(e.target.value)} onKeyDown={(e) => e.stopPropagation()} onPressEnter={leaveOut} />
      <Button size="small" disabled={wanting} loading={edit.isPending} onClick={leaveOut}>
        Leave it out
      </Button>
    </div>
  )
}

const is = (control: string, way: string, end: BoardEnd) => control === end.control && way === end.way
