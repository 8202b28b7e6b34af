import type { UseQueryResult } from '@tanstack/react-query'
import { Button } from 'antd'
import { Fragment, useRef, useState } from 'react'
import type { CharacterOut, Finding, Station } from '../../api/client'
import { leaveJob, useWaits } from '../../api/jobs'
import { useStationFindings } from '../../state/findings'
import { toldByKind, type Told } from './cards'
import { FindingCard } from './FindingCard'
import { RepairButtons } from './RepairButtons'
import { TriedOut } from './TriedOut'
import { useRepair } from './useRepair'

interface Listed {
  character: CharacterOut
  label: string
  /** What is said where nothing is wrong. */
  fine: string
  onLook: (finding: Finding) => void
  /** Is there anything to look at? There is where this is not told. */
  hasPlace?: (finding: Finding) => boolean
}

/** All that a station finds. */
export function FindingList({ station, ...listed }: Listed & { station: Station }) {
  return <Findings {...listed} found={useStationFindings(listed.character, station)} station={station} />
}

interface Props extends Listed {
  found: Pick<UseQueryResult<Finding[]>, 'data' | 'error' | 'isPlaceholderData' | 'refetch'>
  /** Whose job measures it, where one does. */
  station?: Station
}

/** What is wrong, the worst first, each with its place and, where there is one, its repair. After an edit it is out of date until it has been measured anew. */
export function Findings({ character, found, station, label, fine, onLook, hasPlace }: Props) {
  const { data, error, isPlaceholderData: stale, refetch } = found
  const [repaired, setRepaired] = useState<{ key: string; at: number; title: string }[]>([])
  const pointed = useRef(false)
  const kinds = toldByKind(data ?? [])
  const order = kinds.flat()
  /** Its place is kept for as long as the pointer stays: what comes next must not slide under a hand that presses again. */
  const keepPlace = (key: string) => {
    const at = order.findIndex((told) => told.key === key)
    if (pointed.current && at >= 0) setRepaired((before) => [...before, { key, at, title: order[at]!.findings[0]!.title }])
  }
  const gone = stale ? [] : repaired.filter((r) => !order.some((told) => told.key === r.key))
  const { trial, busy, repair, tryOut, leave } = useRepair(character, onLook, keepPlace)
  if (error)
    return (
      <p className="madder">
        {error.message}{' '}
        <Button size="small" onClick={() => void refetch()}>
          Measure
        </Button>
      </p>
    )
  if (!data) return <Measuring station={station} said="Measuring" />
  const shown = (key: string, findings: Finding[]) =>
    trial?.key === key && !stale && <TriedOut found={trial.found} own={trial.own} pending={busy === key} onAccept={() => void repair(key, findings)} onLeave={leave} />
  const buttons = (key: string, findings: Finding[]) => ({
    pending: busy === key,
    stale: stale || (busy !== null && busy !== key),
    onTry: () => void tryOut(key, findings, 'show'),
    onRepair: () => void tryOut(key, findings, 'repair'),
  })
  const card = ({ key, findings }: Told) => (
    <FindingCard key={key} findings={findings} onLook={onLook} hasPlace={hasPlace} {...buttons(key, findings)}>
      {shown(key, findings)}
    </FindingCard>
  )
  return (
    <section aria-label={label} className={stale ? 'stale' : undefined} onPointerEnter={() => (pointed.current = true)} onPointerLeave={() => ((pointed.current = false), setRepaired([]))}>
      {stale && <Measuring station={station} said="Measuring again: what follows was found before the last edit" />}
      {!stale && !data.length && (
        <p className="quiet" role="status" aria-label={label}>
          <span className="sign" /> {fine}
        </p>
      )}
      {kinds.map((told) => {
        const all = told.flatMap((t) => t.findings)
        const kind = `all ${told[0]!.findings[0]!.kind}`
        return (
          <Fragment key={kind}>
            {told.length > 1 && all.filter((f) => f.repairs?.length).length > 1 && (
              <div className="kind">
                <span className="quiet">{all.length} of one kind</span>
                <RepairButtons what=" all" {...buttons(kind, all)} />
                {shown(kind, all)}
              </div>
            )}
            {told.map((t) => (
              <Fragment key={t.key}>
                {gone.filter((r) => r.at === order.indexOf(t)).map((r) => <Repaired key={r.key} title={r.title} />)}
                {card(t)}
              </Fragment>
            ))}
          </Fragment>
        )
      })}
      {gone.filter((r) => r.at >= order.length).map((r) => <Repaired key={r.key} title={r.title} />)}
    </section>
  )
}

/** Where a card was. */
function Repaired({ title }: { title: string }) {
  return (
    <div className="kept-place">
      <b>{title}</b>
      <p>
        <span className="sign" /> Repaired.
      </p>
      <div className="row" />
    </div>
  )
}

/** What is being measured, and a way to stop it. */
function Measuring({ station, said }: { station: Station | undefined; said: string }) {
  const job = useWaits((s) => s.jobs.find((j) => station && j.kind === 'findings' && j.title.endsWith(station)))
  return (
    <p className="quiet" role="status">
      {said}
      {job?.text ? `: ${job.text}` : ' …'}{' '}
      {job && (
        <Button size="small" onClick={() => void leaveJob(job.id)}>
          Stop
        </Button>
      )}
    </p>
  )
}
