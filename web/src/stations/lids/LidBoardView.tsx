import type { LidBoard, LidCell } from '../../api/client'
import { mm } from '../../ui/names'

const CELL = { width: 26, height: 20 }
const SIGNS = ['up', 'down', 'out', 'in']

/** "straight", or how far up, down, out or in the eye looks. */
export function gazeSaid([height, outward]: [number, number]): string {
  if (!height && !outward) return 'straight'
  const said = [height > 0 ? `${height}° up` : height < 0 ? `${-height}° down` : '', outward > 0 ? `${outward}° out` : outward < 0 ? `${-outward}° in` : '']
  return said.filter(Boolean).join(', ')
}

const short = (gaze: [number, number]) => SIGNS.find((word) => gazeSaid(gaze).endsWith(word)) ?? '·'

const fill = (cell: LidCell) => (cell.excess > 1 ? 'var(--madder)' : cell.excess > 0.8 ? 'var(--saffron)' : 'var(--spruce)')

export function cellSaid(cell: LidCell): string {
  const slit = cell.slit === null ? '' : `, slit ${mm(cell.slit)}`
  return `closed ${Math.round(cell.closing * 100)} %, ${gazeSaid([cell.height, cell.outward])}: overlap ${mm(cell.overlap)}, gap to the eye ${mm(cell.gap)}${slit}`
}

export const sameCell = (a: LidCell, b: LidCell) => a.side === b.side && a.closing === b.closing && a.height === b.height && a.outward === b.outward

interface Props {
  board: LidBoard
  side: string
  chosen: LidCell | null
  onChoose: (cell: LidCell) => void
}

/** A cell a closing and gaze: fuller the nearer its worst is to the limit, with a cross where it is over. */
export function LidBoardView({ board, side, chosen, onChoose }: Props) {
  const cells = board.cells.filter((c) => c.side === side)
  return (
    <table className="lid-board" aria-label={`Lid board, eye ${side}`}>
      <thead>
        <tr>
          <th className="quiet">Closed</th>
          {board.gazes.map((gaze) => (
            <th key={gaze.join()} className="quiet" title={gazeSaid(gaze)}>
              {short(gaze)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {board.closings.map((closing) => (
          <tr key={closing}>
            <th className="num quiet">{Math.round(closing * 100)} %</th>
            {cells
              .filter((c) => c.closing === closing)
              .map((c) => (
                <td key={`${c.height} ${c.outward}`}>
                  <button className="bare" aria-label={cellSaid(c)} title={cellSaid(c)} aria-pressed={chosen !== null && sameCell(c, chosen)} data-over={c.excess > 1} onClick={() => onChoose(c)}>
                    <svg width={CELL.width} height={CELL.height} aria-hidden>
                      <rect x="1" y="1" width={CELL.width - 2} height={CELL.height - 2} rx="3" fill="var(--card)" stroke={fill(c)} />
                      <rect x="2" y={2 + (CELL.height - 4) * (1 - Math.min(1, c.excess))} width={CELL.width - 4} height={(CELL.height - 4) * Math.min(1, c.excess)} fill={fill(c)} opacity={c.excess > 1 ? 1 : 0.45} />
                      {c.excess > 1 && <path d="M9 6l8 8m0-8l-8 8" stroke="var(--card)" strokeWidth="2" />}
                    </svg>
                  </button>
                </td>
              ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}
