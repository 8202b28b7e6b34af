import { Button, Checkbox } from 'antd'
import { useEffect, useRef, useState } from 'react'
import type { CharacterOut, CurveKey, EyeLids, LidCell } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { useLidBoard } from '../../state/lidBoard'
import { counted } from '../../ui/names'
import { PullList } from '../PullList'
import { cellSaid, LidBoardView, sameCell } from './LidBoardView'
import { LineEditor } from './LineEditor'

type Side = EyeLids['side']

/** Poses the stage as a cell of the board says. */
function goToCell(character: CharacterOut, cell: LidCell) {
  const there = new Set(character.controls.map((c) => c.name))
  const blink = [`blink_${cell.side}`, 'blink'].find((name) => there.has(name))
  const across = cell.outward * (cell.side === 'R' ? -1 : 1)
  const asked = { gaze_height: cell.height, gaze_across: across, ...(blink ? { [blink]: cell.closing } : {}) }
  const values = Object.fromEntries(Object.entries(asked).filter(([name, value]) => there.has(name) && value !== 0))
  useBench.setState({ values, pose: null, strength: 1, playing: false })
}

/** Lids that close on a line, measured over all closings and gazes while it is drawn. */
export function LidsPanel({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const [side, setSide] = useState<Side>('L')
  const [mirror, setMirror] = useState(true)
  const [drawing, setDrawing] = useState<{ revision: number; keys: CurveKey[] } | null>(null)
  const [chosen, setChosen] = useState<LidCell | null>(null)
  // a line that is set while the last one is under way waits for it; of several only the last is sent
  const waiting = useRef<{ side: Side; keys: CurveKey[] } | null>(null)
  const send = (line: { side: Side; keys: CurveKey[] }) =>
    edit.mutate({ edit: 'lids.set_line', params: { ...line, mirror } }, { onError: () => setDrawing(null) })
  useEffect(() => {
    const next = waiting.current
    if (edit.isPending || !next) return
    waiting.current = null
    if (!edit.isError) send(next)
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [edit.isPending, character.revision.number])
  // what was drawn on a revision is shown until the next one has it
  const drawn = drawing?.revision === character.revision.number ? drawing.keys : null
  const { data: board, error, isFetching } = useLidBoard(character, drawn && { side, keys: drawn, mirror })
  const eye = board?.eyes.find((e) => e.side === side) ?? board?.eyes[0]
  if (error || !board || !eye)
    return (
      <section aria-label="Lids">
        <h2>Lids</h2>
        <p>{error ? error.message : 'Measuring every closing against every gaze …'}</p>
      </section>
    )
  const over = board.cells.filter((c) => c.excess > 1)
  const other = board.eyes.find((e) => e.side !== eye.side)
  const shown = chosen && board.cells.find((c) => sameCell(c, chosen))
  const draw = (keys: CurveKey[]) => setDrawing({ revision: character.revision.number, keys })
  const set = (keys: CurveKey[]) => {
    draw(keys)
    if (edit.isPending) waiting.current = { side: eye.side, keys }
    else send({ side: eye.side, keys })
  }
  return (
    <section aria-label="Lids" className="lids" aria-busy={isFetching || edit.isPending}>
      <h2>Lids</h2>
      <p className="quiet">Where the lids meet, and how they close over the eye in every gaze.</p>
      <div className="row">
        {board.eyes.map((e) => (
          <button key={e.side} className="chip" aria-pressed={e.side === eye.side} onClick={() => {
              setSide(e.side)
              setDrawing(null)
            }}>
            Eye {e.side}
          </button>
        ))}
        {other && (
          <Checkbox checked={mirror} onChange={(e) => setMirror(e.target.checked)}>
            Both eyes alike
          </Checkbox>
        )}
      </div>
      <h3>Closed line</h3>
      <LineEditor key={eye.side} eye={eye} keys={drawn ?? eye.keys} onDraw={draw} onSet={set} />
      <div className="repairs">
        {other && eye.side !== 'C' && (
          <Button size="small" disabled={edit.isPending} onClick={() => edit.mutate({ edit: 'lids.copy', params: { side: eye.side as 'L' | 'R' } })}>
            Copy to eye {other.side}
          </Button>
        )}
        <Button size="small" disabled={edit.isPending} onClick={() => edit.mutate({ edit: 'lids.reset', params: { side: eye.side } })}>
          Back to the start
        </Button>
      </div>
      <h3>Lid board</h3>
      <p role="status" className="quiet">
        {over.length ? `${counted(over.length, 'cell')} of ${board.cells.length} over the limits.` : `All ${board.cells.length} cells of both eyes are within the limits.`}
      </p>
      <LidBoardView
        board={board}
        side={eye.side}
        chosen={chosen}
        onChoose={(cell) => {
          setChosen(cell)
          goToCell(character, cell)
        }}
      />
      {shown && <p className="num said">Eye {shown.side}, {cellSaid(shown)}.</p>}
      {character.bones.length > 0 && <PullList character={character} />}
    </section>
  )
}
