import { useEffect, useRef } from 'react'
import type { BoardCause, CharacterOut, MixReport } from '../../api/client'
import { useEdit } from '../../state/edits'
import { lookAtFinding, useIntend, useMixView } from '../../state/mix'
import { Intend, Intended } from '../../ui/Intention'
import { counted, percent } from '../../ui/names'
import { counting, labelsOf } from './ends'
import { EarlierFirst } from './EarlierFirst'
import { Mendings } from './Mendings'
import { RepairAll } from './RepairAll'

interface Props {
  character: CharacterOut
  report: MixReport
  /** Is the report of the revision that is seen? What is intended is said of that alone. */
  fresh: boolean
}

/** Worst first; arrow keys walk the list, and the head goes along. What is intended stands below, and counts no more. */
export function Causes({ character, report, fresh }: Props) {
  const chosen = useMixView((s) => s.cause)
  const open = report.causes.filter((c) => c.intended == null) // they come first
  const meant = report.causes.filter((c) => c.intended != null)
  const look = (k: number) => {
    const worst = report.findings[report.causes[k]!.findings[0]!]!
    const ends = [worst.ends[0]!, worst.ends[1] ?? worst.ends[0]!] as const
    useMixView.setState({ cause: k, cell: ends })
    lookAtFinding(worst)
  }
  const walk = (e: React.KeyboardEvent) => {
    const by = e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0
    if (!by) return
    e.preventDefault()
    e.stopPropagation()
    const next = Math.min(open.length - 1, Math.max(0, (chosen ?? -1) + by))
    look(next)
    e.currentTarget.querySelectorAll<HTMLElement>('[role=option]')[next]?.focus()
  }
  return (
    <section aria-label="Causes">
      {open.length === 0 && <Verdict report={report} />}
      {open.length > 0 && (
        <>
          <h3>
            {counted(open.length, 'cause')} of {counted(counting(report).length, 'finding')}
          </h3>
          {fresh && <RepairAll key={character.revision.number} character={character} />}
          <EarlierFirst character={character} />
          <div role="listbox" aria-label="Causes" className="causes" onKeyDown={walk}>
            {open.map((cause, k) => (
              <Cause key={cause.findings[0]} {...{ character, report, cause, fresh }} number={k} chosen={chosen === k} reached={k === (chosen ?? 0)} onLook={() => look(k)} />
            ))}
          </div>
        </>
      )}
      {meant.length > 0 && <Meant character={character} report={report} causes={meant} onLook={(cause) => look(report.causes.indexOf(cause))} />}
    </section>
  )
}

function Verdict({ report }: { report: MixReport }) {
  const all = report.findings.length ? 'Every other pair, and every other triple' : 'Every pair, and every triple'
  return (
    <p className="quiet" role="status" aria-label="Causes">
      {!report.at_rest.length && <span className="sign" />}{' '}
      {report.at_rest.length ? 'No expression makes anything worse than it is at rest.' : report.pairs ? `${all} that came near a limit, is within.` : 'Nothing was measured.'}
    </p>
  )
}

interface CauseProps extends Props {
  cause: BoardCause
  number: number
  chosen: boolean
  /** Is it the one that the tab key comes to? */
  reached: boolean
  onLook: () => void
}

const MOST_LINKS = 3
const MOST_OTHERS = 4

function Cause({ character, report, cause, fresh, number, chosen, reached, onLook }: CauseProps) {
  const worst = report.findings[cause.findings[0]!]!
  const { intend, pending } = useIntend(character)
  const card = useRef<HTMLDivElement>(null)
  // what stands above it has changed with it
  useEffect(() => {
    if (chosen) void card.current?.scrollIntoView({ block: 'nearest' })
  }, [chosen])
  const label = labelsOf(report)
  const more = cause.others.length - MOST_OTHERS
  const cells = new Set(cause.findings.map((k) => report.findings[k]!.moment)).size
  return (
    <div ref={card} role="option" aria-selected={chosen} tabIndex={reached ? 0 : -1} className="finding cause" onClick={onLook} onKeyDown={(e) => e.key === 'Enter' && onLook()}>
      <b>{worst.title}</b>
      {cause.sides.length === 2 && <span className="quiet"> and on the other side</span>}
      <p>
        <span className="quiet">{worst.moment}:</span> {worst.text}
      </p>
      {cells > 1 && (
        <p className="quiet">
          {label(cause.end)} {cause.others.length ? `with ${cause.others.slice(0, MOST_OTHERS).map(label).join(', ')}` : 'alone'}
          {more > 0 && ` and ${more} more`}: {counted(cells, 'cell')}
        </p>
      )}
      <ul className="links">
        {cause.links.slice(0, MOST_LINKS).map((link) => (
          <li key={`${link.control} ${link.kind} ${link.target}`} title={`Without it ${worst.unit === 'mm' ? `${link.without.toFixed(2)} mm` : link.without.toFixed(2)}`}>
            <span className="bar" style={{ width: `${Math.min(100, link.share * 100)}%` }} />
            <span>{link.said}</span>
            <span className="num">{percent(Math.min(1, link.share))}</span>
          </li>
        ))}
      </ul>
      {chosen && fresh && (
        <div onClick={(e) => e.stopPropagation()}>
          <Mendings key={character.revision.number} character={character} cause={number} values={worst.values} />
          <Intend pending={pending} onIntend={(reason) => intend({ cause: number, reason })} />
        </div>
      )}
    </div>
  )
}

function Meant({ character, report, causes, onLook }: { character: CharacterOut; report: MixReport; causes: BoardCause[]; onLook: (cause: BoardCause) => void }) {
  const edit = useEdit(character)
  return (
    <section aria-label="Intended" className="meant">
      <h3>
        Intended <span className="quiet num">{causes.length}</span>
      </h3>
      {causes.map((cause) => {
        const worst = report.findings[cause.findings[0]!]!
        return (
          <div key={cause.findings[0]} className="finding">
            <button className="bare" onClick={() => onLook(cause)}>
              <b>{worst.title}</b> <span className="quiet">{worst.moment}:</span> {worst.text}
            </button>
            <Intended
              reason={character.intended[cause.intended!] ?? ''}
              pending={edit.isPending}
              onCount={() => edit.mutate({ edit: 'mix.count_again', params: { number: cause.intended! } })}
            />
          </div>
        )
      })}
    </section>
  )
}
