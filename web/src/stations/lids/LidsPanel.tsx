import { Button, Checkbox } from 'antd'
import { useEffect, useState } from 'react'
import type { CharacterOut, EyeLids, Finding, LidCell } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { useStationFindings } from '../../state/findings'
import { useLidBoard } from '../../state/lidBoard'
import { counted } from '../../ui/names'
import { FindingList } from '../findings/FindingList'
import { PullList } from '../PullList'
import { DriverTable } from './DriverTable'
import { FollowEditor, type LidName } from './FollowEditor'
import { cellSaid, LidBoardView, sameCell } from './LidBoardView'
import { LineButtons } from './LineButtons'
import { LineEditor } from './LineEditor'
import { MapTools } from './MapTools'
import { useLidCurves } from './useLidCurves'
import { Works } from '../../ui/Works'

type Side = EyeLids['side']
type Work = 'findings' | 'closing' | 'cover' | 'gaze' | 'driver'

const { goTo } = useBench.getState()

function flyToEye(side: Side) {
  useBench.getState().flyTo(side === 'L' ? 'eye-l' : side === 'R' ? 'eye-r' : 'front')
}

/** Lids that close on a line, swell over the eye and follow the gaze, measured over all closings while they are changed. */
export function LidsPanel({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const mirror = useBench((s) => s.mirror)
  const set = useBench((s) => s.set)
  const side = useBench((s) => s.lidSide)
  const [work, setWork] = useState<Work>('findings')
  const [lid, setLid] = useState<LidName>('upper')
  const [chosen, setChosen] = useState<LidCell | null>(null)
  const curves = useLidCurves(character, side, edit)
  const found = useStationFindings(character, 'lids')
  useEffect(() => flyToEye(useBench.getState().lidSide), [])
  const { data: board, exact, late, error, isFetching } = useLidBoard(character, curves.tried)
  const drawn = curves.drawn ?? (late ? curves.stored : null) // a board that is late still has the curves of before
  const eye = board?.eyes.find((e) => e.side === side) ?? board?.eyes[0]
  const there = eye?.side
  useEffect(() => {
    if (there && there !== side) set({ lidSide: there }) // a head with one eye
  }, [there, side, set])
  if (error || !board || !eye)
    return (
      <section aria-label="Lids">
        <h2>Lids</h2>
        <p>{error ? error.message : 'Measuring every closing against every gaze …'}</p>
      </section>
    )
  const choose = (side: Side) => {
    set({ lidSide: side })
    flyToEye(side)
    if (side !== eye.side) curves.forget()
  }
  const lookAt = ({ values = {}, part, vertices = [], about }: Finding) => {
    goTo(values)
    set({ selection: part && vertices.length ? { part, vertices } : null })
    choose(about.at(-1) as Side)
  }
  const over = board.cells.filter((c) => c.excess > 1)
  const other = board.eyes.find((e) => e.side !== eye.side)
  const shown = chosen && board.cells.find((c) => sameCell(c, chosen))
  const works: { key: Work; label: string }[] = [
    { key: 'findings', label: found.data?.length ? `Findings ${found.data.length}` : 'Findings' },
    { key: 'closing', label: 'Closing' },
    { key: 'cover', label: 'Cover' },
    { key: 'gaze', label: 'Gaze' },
    { key: 'driver', label: 'Driver' },
  ]
  return (
    <section aria-label="Lids" className="lids" aria-busy={isFetching || found.isFetching || edit.isPending}>
      <h2>Lids</h2>
      <h3>
        Lid board <span className="quiet">{exact ? '' : 'quick'}</span>
      </h3>
      <p role="status" className="quiet">
        {over.length ? `${counted(over.length, 'cell')} of ${board.cells.length} over the limits.` : `All ${board.cells.length} cells${other ? ' of both eyes' : ''} are within the limits.`}
      </p>
      <LidBoardView
        board={board}
        chosen={chosen}
        onChoose={(cell) => {
          setChosen(cell)
          choose(cell.side as Side)
          goTo(cell.values)
        }}
      />
      {shown && (
        <p className="num said">
          {cellSaid(shown)}.
        </p>
      )}
      <div className="row">
        {board.eyes.map((e) => (
          <button
            key={e.side}
            className="chip"
            aria-pressed={e.side === eye.side}
            onClick={() => choose(e.side)}
          >
            Eye {e.side}
          </button>
        ))}
        {other && (
          <Checkbox checked={mirror} onChange={(e) => set({ mirror: e.target.checked })}>
            Both eyes alike
          </Checkbox>
        )}
      </div>
      <Works
        label="Work on lids"
        works={works}
        chosen={work}
        onChoose={(key) => {
          setWork(key)
          set({ selection: null })
        }}
      />
      {work === 'closing' && (
        <>
          <LineEditor key={eye.side} eye={eye} keys={drawn?.line ?? eye.keys} onDraw={(line) => curves.draw({ line, follow: null })} onSet={(line) => curves.set({ line, follow: null })} />
          <LineButtons eye={eye} onSet={(line) => curves.set({ line, follow: null })} />
        </>
      )}
      {work === 'gaze' && (
        <FollowEditor
          key={eye.side}
          eye={eye}
          lid={lid}
          onLid={setLid}
          drawn={drawn?.follow?.lid === lid ? drawn.follow.curves : null}
          onDraw={(follow) => curves.draw({ line: null, follow: { lid, curves: follow } })}
          onSet={(follow) => curves.set({ line: null, follow: { lid, curves: follow } })}
        />
      )}
      {work === 'cover' && <MapTools eye={eye} edit={edit} />}
      {work === 'driver' && <DriverTable character={character} eye={eye} edit={edit} />}
      {work === 'findings' && <FindingList character={character} station="lids" label="Lid findings" fine="No lid overlaps, gapes or creases, in any closing and gaze." onLook={lookAt} />}
      {work !== 'findings' && work !== 'driver' && (
        <div className="repairs">
          {other && eye.side !== 'C' && (
            <Button size="small" disabled={edit.isPending} title={work === 'cover' ? 'Lid share and eye relief, mirrored' : 'Line and gaze follow, mirrored'} onClick={() => edit.mutate({ edit: 'lids.copy', params: { side: eye.side as 'L' | 'R', what: work === 'cover' ? 'maps' : 'curves' } })}>
              {work === 'cover' ? 'Copy maps to eye' : 'Copy to eye'} {other.side}
            </Button>
          )}
          {work !== 'cover' && <Button size="small" disabled={edit.isPending} title="The line and the gaze follow that lids are set up with" onClick={() => edit.mutate({ edit: 'lids.reset', params: { side: eye.side } })}>
            Back to the start
          </Button>}
        </div>
      )}
      {character.bones.length > 0 && <PullList character={character} />}
    </section>
  )
}
