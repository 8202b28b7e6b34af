import { App, Button, Progress } from 'antd'
import { useEffect, useRef } from 'react'
import { saveFile, type BoardCause, type BoardFinding, type CharacterOut, type MixOut, type MixReport } from '../../api/client'
import { leaveJob, useWaits, type Job } from '../../api/jobs'
import { lookAtFinding, useFollowedSweep, useMix, useMixView, useSweep } from '../../state/mix'
import { counted, percent, targetLabel } from '../../ui/names'
import { PullList } from '../PullList'

/** Every expression on every other: the sweep, and the few causes of all that is wrong. */
export function MixPanel({ character }: { character: CharacterOut }) {
  const { data, error } = useMix(character)
  useFollowedSweep(character, data?.job ?? null)
  const sweep = useSweep(character)
  useEffect(() => () => useMixView.setState({ cell: null, cause: null, place: null }), [character.id])
  if (error || !data)
    return (
      <section aria-label="Mix">
        <h2>Mix</h2>
        <p>{error ? error.message : 'Reading the last sweep …'}</p>
      </section>
    )
  const { report, job } = data
  return (
    <section aria-label="Mix" className="mix" aria-busy={job !== null}>
      <h2>
        Mix {report && <span className="quiet num">{report.findings.length}</span>}
      </h2>
      {job ? <Sweeping job={job} /> : <Begin data={data} character={character} pending={sweep.isPending} onSweep={() => sweep.mutate()} />}
      {report && <Missing report={report} />}
      {report && <AtRest report={report} />}
      {report && <Chosen report={report} />}
      {report && <Causes character={character} report={report} />}
      {character.bones.length > 0 && <PullList character={character} stays />}
    </section>
  )
}

function Begin({ data, character, pending, onSweep }: { data: MixOut; character: CharacterOut; pending: boolean; onSweep: () => void }) {
  const { report, fresh } = data
  const { message } = App.useApp()
  const none = character.controls.length === 0 && character.bones.length === 0
  return (
    <div className="row begin">
      <Button type={report && fresh ? 'default' : 'primary'} disabled={none} loading={pending} onClick={onSweep}>
        {report ? 'Sweep again' : 'Sweep'}
      </Button>
      {report && fresh && (
        <Button title="A page to print or send, with pictures" onClick={() => void saveFile(`/api/characters/${character.id}/export.mix`).catch((e: Error) => message.error(e.message))}>
          Report
        </Button>
      )}
      <span className="quiet">
        {none && 'There is nothing to mix yet: a rig comes first.'}
        {!none && !report && 'Measures every control alone, with every other, and three together where two come near a limit.'}
        {report && fresh && `${counted(report.pairs, 'pair')} and ${counted(report.triples, 'triple')} measured.`}
        {report && !fresh && `Of revision ${data.revision}: something was changed since. Only that is measured again.`}
      </span>
    </div>
  )
}

/** How far the sweep is; it goes on though one leaves. */
function Sweeping({ job }: { job: Job }) {
  const now = useWaits((s) => s.jobs.find((j) => j.id === job.id)) ?? job
  return (
    <div className="sweeping" role="status" aria-label="Sweep">
      <Progress percent={Math.round(now.share * 100)} size="small" strokeColor="var(--spruce)" />
      <div className="row">
        <span className="quiet">{now.text || 'Starting …'}</span>
        <span className="gap" />
        <Button size="small" onClick={() => void leaveJob(job.id)}>
          Stop
        </Button>
      </div>
    </div>
  )
}

function Missing({ report }: { report: MixReport }) {
  const asleep = report.ends.filter((e) => e.asleep)
  if (!report.not_measured.length && !asleep.length) return null
  return (
    <div className="not-measured">
      <b>Not measured</b>
      {report.not_measured.map((text) => (
        <p key={text}>{text}</p>
      ))}
      {asleep.length > 0 && <p>{asleep.map((e) => e.label).join(', ')}: nothing here makes {asleep.length === 1 ? 'it' : 'them'} do anything.</p>}
    </div>
  )
}

/** What no expression is to blame for. */
function AtRest({ report }: { report: MixReport }) {
  if (!report.at_rest.length) return null
  return (
    <div className="not-measured at-rest">
      <b>At rest already</b>
      {report.at_rest.map((text) => (
        <p key={text}>{text}</p>
      ))}
    </div>
  )
}

/** What an end is called, by its name. */
const labelsOf = (report: MixReport) => (name: string) => report.ends.find((e) => e.name === name)?.label ?? name

/** What is wrong in the cell that is looked at. */
function Chosen({ report }: { report: MixReport }) {
  const cell = useMixView((s) => s.cell)
  if (!cell) return null
  const [row, column] = cell
  const among = (f: BoardFinding) => (row === column ? f.ends.length === 1 && f.ends[0] === row : f.ends.includes(row) && f.ends.includes(column))
  const found = report.findings.filter(among)
  if (!found.length) return null
  const label = labelsOf(report)
  return (
    <section aria-label="Of this cell" className="of-cell">
      <h3>{row === column ? label(row) : `${label(row)} × ${label(column)}`}</h3>
      <ul>
        {found.map((f) => (
          <li key={`${f.moment} ${f.title} ${f.vertex} ${f.limit}`}>
            <button className="bare" onClick={() => lookAtFinding(f)}>
              <b>{f.title}</b> <span className="quiet">{f.moment}:</span> {f.text}
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** Worst first; arrow keys walk the list, and the head goes along. */
function Causes({ character, report }: { character: CharacterOut; report: MixReport }) {
  const chosen = useMixView((s) => s.cause)
  if (!report.causes.length)
    return (
      <p className="quiet" role="status" aria-label="Causes">
        {!report.at_rest.length && <span className="sign" />}{' '}
        {report.at_rest.length ? 'No expression makes anything worse than it is at rest.' : report.pairs ? 'Every pair, and every triple that came near a limit, is within.' : 'Nothing was measured.'}
      </p>
    )
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
    const next = Math.min(report.causes.length - 1, Math.max(0, (chosen ?? -1) + by))
    look(next)
    e.currentTarget.querySelectorAll<HTMLElement>('[role=option]')[next]?.focus()
  }
  return (
    <section aria-label="Causes">
      <h3>
        {counted(report.causes.length, 'cause')} of {counted(report.findings.length, 'finding')}
      </h3>
      <div role="listbox" aria-label="Causes" className="causes" onKeyDown={walk}>
        {report.causes.map((cause, k) => (
          <Cause key={cause.findings[0]} character={character} report={report} cause={cause} chosen={chosen === k} reached={k === (chosen ?? 0)} onLook={() => look(k)} />
        ))}
      </div>
    </section>
  )
}

interface CauseProps {
  character: CharacterOut
  report: MixReport
  cause: BoardCause
  chosen: boolean
  /** Is it the one that the tab key comes to? */
  reached: boolean
  onLook: () => void
}

const MOST_LINKS = 3
const MOST_OTHERS = 4

function Cause({ character, report, cause, chosen, reached, onLook }: CauseProps) {
  const worst = report.findings[cause.findings[0]!]!
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
            <span>
              {character.controls.find((c) => c.name === link.control)?.label ?? link.control} → {targetLabel(character, link.kind, link.target)}
            </span>
            <span className="num">{percent(Math.min(1, link.share))}</span>
          </li>
        ))}
      </ul>
    </div>
  )
}
