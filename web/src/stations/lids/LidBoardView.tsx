import type { LidBoard, LidCell } from '../../api/client'
import { mm } from '../../ui/names'

const CELL = { width: 24, height: 19 }
const NEAR = 0.8 // of a limit

/** "straight", or how far up, down, out or in the eye looks. */
export function gazeSaid([height, outward]: [number, number]): string {
  if (!height && !outward) return 'straight'
  const said = [height > 0 ? `${height}° up` : height < 0 ? `${-height}° down` : '', outward > 0 ? `${outward}° out` : outward < 0 ? `${-outward}° in` : '']
  return said.filter(Boolean).join(', ')
}

const short = (gaze: [number, number]) => gazeSaid(gaze).split(' ').at(-1)!.replace('straight', 'ahead')

const fill = (cell: LidCell) => (cell.excess > 1 ? 'var(--madder)' : cell.excess > NEAR ? 'var(--saffron)' : 'var(--spruce)')

export function cellSaid(cell: LidCell): string {
  const slit = cell.slit === null ? '' : `, slit ${mm(cell.slit)}`
  return `Eye ${cell.side}, closed ${Math.round(cell.closing * 100)} %, ${gazeSaid([cell.height, cell.outward])}: overlap ${mm(cell.overlap)}, gap to the eye ${mm(cell.gap)}${slit}`
}

export const sameCell = (a: LidCell, b: LidCell) => a.side === b.side && a.closing === b.closing && a.height === b.height && a.outward === b.outward

/** The measure of a cell that is nearest to its limit or farthest beyond it, mm. */
const worstOf = (cell: LidCell) => ({ overlap: cell.overlap, gap: cell.gap, slit: cell.slit ?? 0 })[cell.worst].toFixed(2).replace(/^0/, '')

interface Props {
  board: LidBoard
  chosen: LidCell | null
  onChoose: (cell: LidCell) => void
}

/** Every closing against every gaze, both eyes: in each cell the millimetres that are nearest to their limit, the cell filled as they near it. */
export function LidBoardView({ board, chosen, onChoose }: Props) {
  return (
    <>
      <table className="lid-board" aria-label="Lid board">
        <thead>
          <tr>
            <th />
            {board.eyes.map((e) => (
              <th key={e.side} colSpan={board.gazes.length} scope="colgroup">
                Eye {e.side}
              </th>
            ))}
          </tr>
          <tr>
            <th className="quiet" title="How far the lids are closed, per cent">%</th>
            {board.eyes.map((e) =>
              board.gazes.map((gaze) => (
                <th key={`${e.side} ${gaze.join()}`} className="quiet" title={gazeSaid(gaze)}>
                  {short(gaze)}
                </th>
              )),
            )}
          </tr>
        </thead>
        <tbody>
          {board.closings.map((closing) => (
            <tr key={closing}>
              <th className="num quiet">{Math.round(closing * 100)}</th>
              {board.eyes.map((e) =>
                board.cells.filter((c) => c.side === e.side && c.closing === closing).map((c) => <Cell key={`${c.side} ${c.height} ${c.outward}`} cell={c} chosen={chosen !== null && sameCell(c, chosen)} onChoose={onChoose} />),
              )}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet tiny-said">
        mm of overlap, gap to the eye or slit, whichever is nearest to its limit: <b className="within">within</b>, <b className="near">over {NEAR * 100} % of it</b>, <b className="over">beyond it</b>.
      </p>
    </>
  )
}

function Cell({ cell, chosen, onChoose }: { cell: LidCell; chosen: boolean; onChoose: (cell: LidCell) => void }) {
  const over = cell.excess > 1
  const full = (CELL.height - 4) * Math.min(1, cell.excess)
  return (
    <td>
      <button className="bare" aria-label={cellSaid(cell)} title={cellSaid(cell)} aria-pressed={chosen} data-over={over} onClick={() => onChoose(cell)}>
        <svg width={CELL.width} height={CELL.height} aria-hidden>
          <rect x="1" y="1" width={CELL.width - 2} height={CELL.height - 2} rx="3" fill="var(--card)" stroke={fill(cell)} />
          <rect x="2" y={CELL.height - 2 - full} width={CELL.width - 4} height={full} fill={fill(cell)} opacity={over ? 1 : 0.3} />
          <text x={CELL.width / 2} y={CELL.height / 2 + 3} textAnchor="middle" className={over ? 'in-cell over' : 'in-cell'}>
            {worstOf(cell)}
          </text>
        </svg>
      </button>
    </td>
  )
}
