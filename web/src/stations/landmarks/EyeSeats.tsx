import { useQuery } from '@tanstack/react-query'
import { Segmented, Spin } from 'antd'
import { useEffect, useState } from 'react'
import { fetchCut, fetchSeats, type CharacterOut, type Check, type EyeSeat } from '../../api/client'
import { useBench } from '../../state/bench'
import { depthSaid, mm, partLabel } from '../../ui/names'
import { CutView } from './CutView'
import { Proposals } from './Proposals'
import { SweepMap } from './SweepMap'

/** How each eye sits in its lids: the ball, the pivot, and what it touches as it looks about. */
export function EyeSeats({ character }: { character: CharacterOut }) {
  const { id, revision } = character
  const { data, error, isPlaceholderData } = useQuery({
    queryKey: ['eyes', id, revision.number],
    queryFn: () => fetchSeats(id, revision.number),
    placeholderData: (before) => before,
    retry: false,
  })
  const [side, setSide] = useState('L')
  const seat = data?.find((s) => s.side === side) ?? data?.[0]
  return (
    <section aria-label="Eye seats" aria-busy={!data || isPlaceholderData}>
      <header className="panel-head">
        <h3>Eye seats</h3>
        {data && data.length > 1 && <Segmented size="small" value={seat?.side} options={data.map((s) => ({ value: s.side, label: `Eye ${s.side}` }))} onChange={setSide} />}
      </header>
      {error && <p className="madder">{error.message}</p>}
      {!data && !error && <Spin style={{ margin: 24 }} />}
      {data && !seat && <p className="quiet">No eyeball is found. Set the kinds of the parts at Check-in.</p>}
      {seat && data && <Seat key={seat.side} character={character} seat={seat} others={data.filter((s) => s !== seat)} />}
    </section>
  )
}

/** A contact in words that the stage can tell. */
function spotOf(seat: EyeSeat, skin: string, gaze: number): Check {
  const contact = seat.contacts[gaze]!
  const overlap = contact.depth > 0
  return {
    key: `contact ${seat.side}`,
    label: `${partLabel(seat.part)} ${overlap ? 'cuts the lids' : 'clears the lids'}`,
    region: 'eyes',
    verdict: overlap ? 'fault' : 'fine',
    said: `${depthSaid(contact.depth)}, ${looking(contact.across, contact.height)}`,
    places: [{ part: seat.part, vertices: Array.from({ length: seat.vertices }, (_, v) => v) }],
    marks: [{ part: skin, vertex: contact.vertex, text: depthSaid(contact.depth) }],
  } as Check
}

function looking(across: number, height: number): string {
  const sideways = across ? `${Math.abs(Math.round(across))}° ${across > 0 ? 'left' : 'right'}` : ''
  const upright = height ? `${Math.abs(Math.round(height))}° ${height > 0 ? 'up' : 'down'}` : ''
  return sideways || upright ? `looking ${[sideways, upright].filter(Boolean).join(', ')}` : 'looking straight ahead'
}

interface SeatProps {
  character: CharacterOut
  seat: EyeSeat
  others: EyeSeat[]
}

function Seat({ character, seat, others }: SeatProps) {
  const { id, revision } = character
  const set = useBench((s) => s.set)
  const flyTo = useBench((s) => s.flyTo)
  const [chosen, setChosen] = useState<number | null>(null)
  const gaze = chosen ?? seat.worst
  const skin = character.parts.find((p) => p.kind === 'skin')?.name ?? ''
  const { data: cut } = useQuery({
    queryKey: ['cut', id, revision.number, seat.side, gaze],
    queryFn: () => fetchCut(id, revision.number, seat.side, gaze),
    placeholderData: (before) => before,
    retry: false,
  })
  useEffect(() => set({ spot: spotOf(seat, skin, gaze) }), [set, seat, skin, gaze])
  useEffect(() => flyTo(seat.side === 'R' ? 'eye-r' : 'eye-l'), [flyTo, seat.side])
  const contact = seat.contacts[gaze]!
  return (
    <>
      <dl className="facts">
        <dt>Radius</dt>
        <dd className="num">{mm(seat.radius)}</dd>
        <dt>Out of round</dt>
        <dd className={`num ${seat.roundness > 0.3 ? 'madder' : ''}`}>{mm(seat.roundness)}</dd>
        <dt>Pivot off the centre</dt>
        <dd className={`num ${(seat.pivot_error ?? 0) > 0.5 ? 'madder' : ''}`}>{seat.pivot_error == null ? 'no pivot of its own' : mm(seat.pivot_error)}</dd>
      </dl>
      <h3>
        Gaze sweep{' '}
        <span className={`num ${contact.depth > 0 ? 'madder' : 'quiet'}`} role="status" aria-label="Contact">
          {depthSaid(contact.depth)}, {looking(contact.across, contact.height)}
        </span>
      </h3>
      <div className="sweep-row">
        <SweepMap seat={seat} chosen={gaze} onChoose={setChosen} />
        {cut && <CutView cut={cut} depth={contact.depth} />}
      </div>
      <p className="quiet">
        Each dot is a gaze, as the eye looks at you: red cuts the lids, the larger the deeper. A cornea cuts about a millimetre into lids that do not swell; that is what eye
        relief is for.
      </p>
      <Proposals character={character} seat={seat} others={others} />
    </>
  )
}
