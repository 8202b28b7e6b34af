import { Spin } from 'antd'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router-dom'
import { fetchShelf, type DamagedEntry, type ShelfEntry } from '../api/client'
import { begun, STATIONS, type Station } from '../stations/stations'
import { counted } from '../ui/names'
import { Lately } from './Lately'
import { Mark } from './Mark'
import { Portrait } from './Portrait'
import { SurroundingsSwitch } from './SurroundingsSwitch'
import { TakeIn } from './TakeIn'
import { TakenOff, TakeOff } from './TakenOff'

/** All characters as cards, and the place to drop a head. */
export function Shelf() {
  const { data, error } = useQuery({ queryKey: ['shelf'], queryFn: fetchShelf })
  return (
    <div className="shelf">
      <header>
        <Mark />
        <span className="quiet">Every contact between surfaces, measured in every pose</span>
        <SurroundingsSwitch />
      </header>
      <div className="shelf-title">
        <h1>On the shelf</h1>
        {data && <Counted entries={data} />}
        {data && <FirstRepair entries={data} />}
      </div>
      {error && <p className="madder">{error.message}</p>}
      <div className="cards">
        {!data && !error && <Spin />}
        {data?.map((entry) => ('damage' in entry ? <Damaged key={entry.id} entry={entry} /> : <Card key={entry.id} entry={entry} />))}
        {data && <TakeIn empty={data.length === 0} />}
      </div>
      <Lately />
      <TakenOff />
    </div>
  )
}

const isRigged = (entry: ShelfEntry) => entry.poses > 0

const whole = (entries: (ShelfEntry | DamagedEntry)[]) => entries.filter((e): e is ShelfEntry => !('damage' in e))

function Counted({ entries }: { entries: (ShelfEntry | DamagedEntry)[] }) {
  const waiting = whole(entries).reduce((sum, e) => sum + (isRigged(e) ? e.findings : e.checkin.faults), 0)
  return (
    <span className="quiet">
      {counted(entries.length, 'head')} · <span className={waiting ? 'madder' : ''}>{waiting ? counted(waiting, 'finding') : 'nothing found'}</span>
    </span>
  )
}

/** A way in for who is here for the first time: a finding repaired step by step. */
function FirstRepair({ entries }: { entries: (ShelfEntry | DamagedEntry)[] }) {
  const first = whole(entries).find((e) => e.findings > 0)
  if (!first) return null
  return (
    <Link className="first-repair" to={`/characters/${first.id}/binding?guide=1`}>
      A first repair, in two minutes
    </Link>
  )
}

function Card({ entry }: { entry: ShelfEntry }) {
  return (
    <article className="shelf-card">
      <Link to={`/characters/${entry.id}/${isRigged(entry) ? 'binding' : 'checkin'}`}>
        <Portrait entry={entry} />
        <div className="body">
          <div style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline' }}>
            <h2>{entry.name}</h2>
            <span className="quiet">{entry.story}</span>
          </div>
          <Thread entry={entry} />
          <State entry={entry} />
          <div className="quiet num" style={{ marginTop: 4 }}>
            rev {entry.revision.number} · {counted(entry.parts, 'part')} · {counted(entry.vertices, 'vertex', 'vertices')}
          </div>
        </div>
      </Link>
      <TakeOff id={entry.id} name={entry.name} />
    </article>
  )
}

/** A character that cannot be opened keeps its place, and says why. */
function Damaged({ entry }: { entry: DamagedEntry }) {
  return (
    <section className="shelf-card" aria-label={entry.name}>
      <div className="body">
        <h2 style={{ fontSize: 18 }}>{entry.name}</h2>
        <div className="state">
          <span className="dot over" />
          <span>
            {entry.name} cannot be opened. {entry.damage} If you have a file of this character, take it in again.
          </span>
        </div>
      </div>
      <TakeOff id={entry.id} name={entry.name} />
    </section>
  )
}

/** The worst of a character in one line: what a check found before it is rigged, the worst seam after. */
function State({ entry }: { entry: ShelfEntry }) {
  const { checkin, worst } = entry
  if (!isRigged(entry))
    return (
      <div className="state">
        <span className={`dot ${checkin.faults ? 'over' : ''}`} />
        {checkin.faults ? (
          <>
            {checkin.first}: {checkin.said}
            {checkin.faults > 1 && <span className="quiet"> and {checkin.faults - 1} more</span>}
          </>
        ) : (
          'Fit to be rigged'
        )}
      </div>
    )
  if (worst)
    return (
      <div className="state">
        <span className="dot over" />
        {worst.title} <span className="num madder">{worst.said}</span>
        {entry.findings > 1 && <span className="quiet"> and {entry.findings - 1} more</span>}
      </div>
    )
  return (
    <div className="state">
      <span className={`dot ${entry.measured ? '' : 'unknown'}`} />
      {entry.measured ? 'Every seam within its limits' : 'Not measured yet'}
    </div>
  )
}

/** The stations in small: a thread with a knot each, filled where the work is clean, red where something waits. */
function Thread({ entry }: { entry: ShelfEntry }) {
  const waits = (s: Station) => (s.key === 'checkin' ? entry.checkin.faults > 0 : s.key === 'binding' && entry.findings > 0)
  return (
    <svg viewBox="0 0 266 16" width="100%" aria-hidden style={{ display: 'block', margin: '7px 0' }}>
      <line x1="4" x2="262" y1="8" y2="8" stroke="var(--quiet)" strokeDasharray="7 4" strokeWidth="1.3" />
      {STATIONS.map((s, k) => {
        const colour = waits(s) ? 'var(--madder)' : begun(s, isRigged(entry)) ? 'var(--spruce)' : 'var(--quiet)'
        return (
          <circle key={s.key} cx={8 + k * 27.7} cy="8" r="4" fill={begun(s, isRigged(entry)) && !waits(s) ? colour : 'var(--card)'} stroke={colour} strokeWidth="1.6">
            <title>{s.label}</title>
          </circle>
        )
      })}
    </svg>
  )
}
