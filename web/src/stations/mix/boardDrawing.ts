import type { BoardFinding, MixReport } from '../../api/client'
import { REGIONS, type BoardModel } from './boardModel'

export const READABLE = 11 // px of a cell from which every line has its label
const WITH_GLYPH = 8
const LINE = 11 // px between two labels
const WITH_SIZE = 26

export interface Place {
  row: number
  column: number
}

interface Colours {
  card: string
  line: string
  ink: string
  quiet: string
  spruce: string
  saffron: string
  madder: string
}

const MOST_SHADED = 8 // times its limit from which all is one shade

/** How bad, 0 to 1, by the logarithm. */
const badness = ({ size, limit }: BoardFinding) => Math.min(1, Math.log(Math.max(size / limit, 1)) / Math.log(MOST_SHADED))

const BETTER = new Set(['better', 'gone'])

/** The board as a triangle: a square a pair, ends alone along its edge. `cell` px a square; `against` another revision it is coloured by what has changed. */
export function drawBoard(context: CanvasRenderingContext2D, report: MixReport, model: BoardModel, cell: number, margin: number, chosen: Place | null, against: boolean, colours: Colours) {
  const count = model.lines.length
  context.clearRect(0, 0, margin + count * cell, margin + count * cell)
  for (let row = 0; row < count; row++)
    for (let column = 0; column <= row; column++) {
      const x = margin + column * cell
      const y = margin + row * cell
      const { state, findings, since } = model.cell(row, column)
      const worst = findings.length ? report.findings[findings[0]!]! : null
      context.globalAlpha = 1
      context.fillStyle = colours.card
      if (state === 'apart' || state === 'same' || state === 'asleep') context.globalAlpha = 0.25
      context.fillRect(x, y, cell - 1, cell - 1)
      context.globalAlpha = 1
      if (state === 'within') {
        context.fillStyle = colours.spruce
        context.globalAlpha = 0.16
        context.fillRect(x, y, cell - 1, cell - 1)
      }
      if (worst) {
        const bad = badness(worst)
        context.fillStyle = state === 'meant' || (against && !since) ? colours.quiet : against ? (BETTER.has(since!) ? colours.spruce : colours.madder) : bad < 0.33 ? colours.saffron : colours.madder
        context.globalAlpha = state === 'meant' ? 0.4 : against && !since ? 0.5 : 0.55 + 0.45 * bad
        context.fillRect(x, y, cell - 1, cell - 1)
        context.globalAlpha = 1
        if (cell >= WITH_GLYPH) drawGlyph(context, worst.kind, x + (cell - 1) / 2, cell >= WITH_SIZE ? y + cell * 0.34 : y + (cell - 1) / 2, Math.min(cell * 0.3, 6), colours.card)
        if (cell >= WITH_SIZE) {
          context.fillStyle = colours.card
          context.font = "9px 'Spline Sans Mono', monospace"
          context.textAlign = 'center'
          context.fillText(worst.size >= 10 ? worst.size.toFixed(0) : worst.size.toFixed(1), x + (cell - 1) / 2, y + cell - 5)
        }
      }
      if (!worst && since === 'gone') {
        context.strokeStyle = colours.spruce
        context.lineWidth = 1.6
        context.strokeRect(x + 1, y + 1, cell - 3, cell - 3)
      }
      if (chosen && chosen.row === row && chosen.column === column) {
        context.strokeStyle = colours.ink
        context.lineWidth = 2
        context.strokeRect(x - 1, y - 1, cell + 1, cell + 1)
      }
    }
  drawLabels(context, model, cell, margin, chosen, colours)
}

function drawLabels(context: CanvasRenderingContext2D, model: BoardModel, cell: number, margin: number, chosen: Place | null, colours: Colours) {
  context.globalAlpha = 1
  context.font = "10.5px 'Hanken Grotesk Variable', sans-serif"
  context.textBaseline = 'middle'
  context.textAlign = 'right'
  let below = -Infinity // the last label of a region
  model.lines.forEach((line, k) => {
    const y = margin + (k + 0.5) * cell
    const named = chosen !== null && (chosen.row === k || chosen.column === k)
    context.fillStyle = named ? colours.ink : colours.quiet
    if (cell >= READABLE) context.fillText(line.label, margin - 6, y, margin - 8)
    const first = k === 0 || model.lines[k - 1]!.region !== line.region
    if (cell < READABLE && first) {
      below = Math.max(y, below + LINE) // a region of few lines has no room of its own
      context.fillText(REGIONS[line.region]!, margin - 6, below)
    }
    if (k > 0 && model.lines[k - 1]!.region !== line.region) {
      context.strokeStyle = colours.line
      context.lineWidth = 1
      context.beginPath()
      context.moveTo(margin - 6, y - cell / 2 - 0.5)
      context.lineTo(margin + k * cell, y - cell / 2 - 0.5)
      context.stroke()
    }
  })
  context.textBaseline = 'alphabetic'
}

/** One sign a kind: surfaces in one another, apart, folded, drawn out, sunk in, come off. */
export function drawGlyph(context: CanvasRenderingContext2D, kind: BoardFinding['kind'], x: number, y: number, r: number, colour: string) {
  context.strokeStyle = colour
  context.lineWidth = 1.3
  context.beginPath()
  switch (kind) {
    case 'clash':
    case 'self': // two that lie in one another
      context.arc(x - r * 0.35, y, r * 0.65, 0, 2 * Math.PI)
      context.moveTo(x + r, y)
      context.arc(x + r * 0.35, y, r * 0.65, 0, 2 * Math.PI)
      break
    case 'gape':
    case 'off': // two that are apart
      context.moveTo(x - r, y - r * 0.45)
      context.quadraticCurveTo(x, y - r * 1.1, x + r, y - r * 0.45)
      context.moveTo(x - r, y + r * 0.45)
      context.quadraticCurveTo(x, y + r * 1.1, x + r, y + r * 0.45)
      break
    case 'stretch': // drawn out
      context.moveTo(x - r, y)
      context.lineTo(x + r, y)
      context.moveTo(x - r, y - r * 0.5)
      context.lineTo(x - r, y + r * 0.5)
      context.moveTo(x + r, y - r * 0.5)
      context.lineTo(x + r, y + r * 0.5)
      break
    case 'hollow': // sunk in
      context.moveTo(x - r, y - r * 0.5)
      context.quadraticCurveTo(x, y + r * 1.4, x + r, y - r * 0.5)
      break
    case 'lag':
    case 'drift': // come off
      context.moveTo(x - r, y + r * 0.7)
      context.lineTo(x + r, y + r * 0.7)
      context.moveTo(x, y + r * 0.2)
      context.lineTo(x + r * 0.6, y - r)
      break
    default: // folded: flip, squeeze, crumple
      context.moveTo(x - r, y + r * 0.5)
      context.lineTo(x - r * 0.33, y - r * 0.5)
      context.lineTo(x + r * 0.33, y + r * 0.5)
      context.lineTo(x + r, y - r * 0.5)
  }
  context.stroke()
}
