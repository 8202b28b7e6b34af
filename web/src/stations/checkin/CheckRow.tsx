import { Button } from 'antd'
import { useEffect, useRef } from 'react'
import type { CharacterOut, Check, LimitOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { partLabel } from '../../ui/names'
import { LimitRow } from './LimitRow'
import { Repairs } from './Repairs'
import { Intend, Intended } from '../../ui/Intention'

const FIRST = 8 // vertex numbers that are listed

interface Props {
  character: CharacterOut
  check: Check
  limits: LimitOut[]
}

/** One check: what was measured; opened, why it matters, what to do, and the vertices on the stage. */
export function CheckRow({ character, check, limits }: Props) {
  const open = useBench((s) => s.check === check.key)
  const set = useBench((s) => s.set)
  const row = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (open) row.current?.scrollIntoView({ block: 'nearest' })
  }, [open])
  return (
    <div ref={row} className={`check ${open ? 'open' : ''}`} data-check={check.key}>
      <button className="bare check-row" aria-expanded={open} onClick={() => set({ check: open ? null : check.key, preview: null })}>
        <span className={`sign ${check.waived == null ? check.verdict : 'waived'}`} title={check.waived == null ? check.verdict : 'waived'} />
        <span>
          {check.label}
          <span className="quiet said">{check.said}</span>
        </span>
      </button>
      {open && <Detail character={character} check={check} limits={limits} />}
    </div>
  )
}

/** The first vertex numbers and how many there are; "all 642" for a whole part. */
function numbers(vertices: number[], all: number | undefined): string {
  if (vertices.length === all) return `all ${all.toLocaleString('en-GB')} vertices`
  const first = vertices.slice(0, FIRST).join(' ')
  return vertices.length > FIRST ? `${first} … ${vertices.length.toLocaleString('en-GB')} in all` : first
}

function Detail({ character, check, limits }: Props) {
  const frame = useBench((s) => s.frame)
  const edit = useEdit(character)
  const places = check.places ?? []
  useEffect(() => {
    if (places.length) frame(places)
    // when the check is opened; not again when an edit changes what it finds
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [check.key, frame])
  const held = limits.filter((l) => check.limits?.includes(l.key))
  return (
    <div className="check-detail">
      {check.why && <p>{check.why}</p>}
      {check.what && check.verdict !== 'fine' && (
        <p>
          <b>To do</b> {check.what}
        </p>
      )}
      {places.map((place) => (
        <div key={place.part} className="place">
          <span>
            {partLabel(place.part)}{' '}
            <span className="num quiet">
              {numbers(place.vertices, character.parts.find((p) => p.name === place.part)?.vertices)}
            </span>
          </span>
          <Button size="small" type="text" title="Frame these vertices (F)" onClick={() => frame([place])}>
            Frame
          </Button>
        </div>
      ))}
      <Repairs character={character} check={check} />
      {held.map((limit) => (
        <LimitRow key={limit.key} character={character} limit={limit} />
      ))}
      {check.verdict !== 'fine' &&
        (check.waived != null ? (
          <Intended reason={check.waived} pending={edit.isPending} onCount={() => edit.mutate({ edit: 'checkin.unwaive', params: { check: check.key } })} />
        ) : (
          <Intend pending={edit.isPending} onIntend={(reason) => edit.mutate({ edit: 'checkin.waive', params: { check: check.key, reason } })} />
        ))}
    </div>
  )
}
