import { App, Spin } from 'antd'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { Link } from 'react-router-dom'
import { fetchShelf, sendFile, type ShelfEntry } from '../api/client'
import { STATIONS } from '../stations/stations'
import { mm } from '../ui/names'
import { Mark } from './Mark'
import { Portrait } from './Portrait'

/** All characters as cards, and the place to drop a file. */
export function Shelf() {
  const { data, error } = useQuery({ queryKey: ['shelf'], queryFn: fetchShelf })
  return (
    <div className="shelf">
      <header>
        <Mark />
        <span className="quiet">Every contact between surfaces, measured in every pose</span>
      </header>
      {error && <p className="madder">{error.message}</p>}
      <div className="cards">
        {!data && !error && <Spin />}
        {data?.map((entry) => <Card key={entry.id} entry={entry} />)}
        {data && <TakeIn empty={data.length === 0} />}
      </div>
    </div>
  )
}

function Card({ entry }: { entry: ShelfEntry }) {
  return (
    <Link className="shelf-card" to={`/characters/${entry.id}/binding`}>
      <Portrait entry={entry} />
      <div className="body">
        <div style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline' }}>
          <h2 style={{ fontSize: 18 }}>{entry.name}</h2>
          <span className="quiet">{entry.story}</span>
        </div>
        <Thread found={entry.findings > 0} />
        {entry.worst ? (
          <div>
            <span className="dot over" style={{ display: 'inline-block', marginRight: 7 }} />
            {entry.worst.title} <span className="num madder">{mm(entry.worst.size)}</span>
            {entry.findings > 1 && <span className="quiet"> and {entry.findings - 1} more</span>}
          </div>
        ) : (
          <div>
            <span className={`dot ${entry.measured ? '' : 'unknown'}`} style={{ display: 'inline-block', marginRight: 7 }} />
            {entry.measured ? 'Every seam within its limits' : 'Not measured yet'}
          </div>
        )}
        <div className="quiet num" style={{ marginTop: 4 }}>
          rev {entry.revision.number} · {entry.parts} parts · {entry.vertices.toLocaleString('en-GB')} vertices
        </div>
      </div>
    </Link>
  )
}

/** The stations in small: a thread with a knot each; only Binding is built so far. */
function Thread({ found }: { found: boolean }) {
  return (
    <svg width="266" height="16" aria-hidden style={{ display: 'block', margin: '7px 0' }}>
      <line x1="4" x2="262" y1="8" y2="8" stroke="var(--quiet)" strokeDasharray="7 4" strokeWidth="1.3" />
      {STATIONS.map((s, k) => {
        const built = s.key === 'binding'
        const colour = built ? (found ? 'var(--madder)' : 'var(--spruce)') : 'var(--quiet)'
        return (
          <circle key={s.key} cx={8 + k * 27.7} cy="8" r="4" fill={built && !found ? colour : 'var(--card)'} stroke={colour} strokeWidth="1.6">
            <title>{s.label}</title>
          </circle>
        )
      })}
    </svg>
  )
}

function TakeIn({ empty }: { empty: boolean }) {
  const { message } = App.useApp()
  const queries = useQueryClient()
  const input = useRef<HTMLInputElement>(null)
  const [over, setOver] = useState(false)
  const [busy, setBusy] = useState('')
  const take = async (files: FileList | null) => {
    for (const file of files ?? []) {
      setBusy(file.name)
      try {
        const entry = await sendFile(file)
        void message.success(`${entry.name} is on the shelf`)
      } catch (error) {
        void message.error(`${file.name}: ${(error as Error).message}`, 8)
      }
    }
    setBusy('')
    void queries.invalidateQueries({ queryKey: ['shelf'] })
  }
  return (
    <button
      className={`drop ${over ? 'over' : ''}`}
      onClick={() => input.current?.click()}
      onDragOver={(e) => {
        e.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault()
        setOver(false)
        void take(e.dataTransfer.files)
      }}
    >
      <b>{busy ? `Taking in ${busy} …` : empty ? 'Drop your first head here' : 'Take in a character'}</b>
      <span className="quiet">Drop a character file or a GLB that Tight Seam wrote, or click to choose one.</span>
      <input
        ref={input}
        type="file"
        accept=".seam,.glb"
        hidden
        aria-label="Character file or GLB"
        onClick={(e) => e.stopPropagation()}
        onChange={(e) => {
          void take(e.target.files)
          e.target.value = ''
        }}
      />
    </button>
  )
}
