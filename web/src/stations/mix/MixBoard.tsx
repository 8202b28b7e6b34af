import { Button, Checkbox, Select } from 'antd'
import { useEffect, useMemo, useRef, useState } from 'react'
import type { BoardFinding, CharacterOut, MixChange, MixReport } from '../../api/client'
import { useBench } from '../../state/bench'
import { lookAtFinding, useMix, useMixSince, useMixView, useSweep } from '../../state/mix'
import { boardOf, cellSaid, REGIONS, type BoardModel } from './boardModel'
import { drawBoard, drawGlyph, READABLE, type Place } from './boardDrawing'
import { KINDS, SIGNS } from '../../ui/kinds'

const SMALLEST = 4
const LARGEST = 30
const USUAL = 16 // px that a cell has at most unasked
const ABOVE = 6 // px over the cells
const NARROW = 50 // px beside them while only regions have labels
const WIDE = 132
const SIGN = 14 // px

/** Controls against controls beside the stage; nothing before the first sweep. */
export function MixBoard({ character }: { character: CharacterOut }) {
  const { data } = useMix(character)
  if (!data?.report) return null
  return <Board character={character} report={data.report} stale={!data.fresh} />
}

function Board({ character, report, stale }: { character: CharacterOut; report: MixReport; stale: boolean }) {
  const { cell: chosen, folded, wrongOnly, filter, size: asked, against, picture } = useMixView()
  const [box, setBox] = useState({ width: 0, height: 0 })
  const { pin, changes, error } = useMixSince(character, !stale)
  const model = useMemo(() => boardOf(report, { folded, wrongOnly, filter, changes }), [report, folded, wrongOnly, filter, changes])
  const size = asked ?? fitting(model.lines.length, box)
  const place = placeOf(model, chosen)
  const [pointed, setPointed] = useState<Place | null>(null)
  const said = pointed ?? place
  const fold = (region: string) => {
    const next = new Set(folded)
    if (!next.delete(region)) next.add(region)
    useMixView.setState({ folded: next })
  }
  const choose = (at: Place) => {
    const [row, column] = [model.lines[at.row], model.lines[at.column]]
    if (!row || !column) return
    useMixView.setState({ cell: [row.key, column.key], cause: null })
    const worst = model.cell(at.row, at.column).findings[0]
    if (worst !== undefined) return lookAtFinding(report.findings[worst]!)
    const ends = [row.ends[0]!, column.ends[0]!]
    const values = Object.fromEntries(ends.map((e) => [e.control, e.value]))
    useBench.getState().goTo(values)
    useMixView.setState({ looked: values })
  }
  return (
    <section className="mix-board" aria-label="Mix board" aria-busy={stale || undefined}>
      <header className="row">
        <Select
          size="small"
          className="mix-filter"
          aria-label="What is shown"
          value={filter ?? ''}
          onChange={(value: string) => useMixView.setState({ filter: value || null })}
          options={filtersOf(character, report.findings)}
        />
        <Checkbox checked={wrongOnly} onChange={(e) => useMixView.setState({ wrongOnly: e.target.checked })}>
          Only wrong
        </Checkbox>
        {pin !== undefined && (
          <Checkbox checked={against && !stale} disabled={stale} title={stale ? 'Something was changed since the sweep: sweep again, then it can be held against the pin' : `New, worse, better and gone since rev ${pin}`} onChange={(e) => useMixView.setState({ against: e.target.checked })}>
            Against rev {pin}
          </Checkbox>
        )}
        <span className="gap" />
        <Button size="small" aria-label="Smaller cells" disabled={size <= SMALLEST} onClick={() => useMixView.setState({ size: Math.max(SMALLEST, size - 3) })}>
          −
        </Button>
        <Button size="small" aria-label="Larger cells" disabled={size >= LARGEST} onClick={() => useMixView.setState({ size: Math.min(LARGEST, size + 3) })}>
          +
        </Button>
        <Button size="small" disabled={asked === null} onClick={() => useMixView.setState({ size: null })}>
          Fit
        </Button>
      </header>
      <div className="row regions">
        {Object.keys(REGIONS)
          .filter((region) => report.ends.some((e) => e.region === region))
          .map((region) => (
            <button key={region} className="chip" aria-pressed={!folded.has(region)} title={folded.has(region) ? 'Show each of its controls' : 'Fold into one line'} onClick={() => fold(region)}>
              {REGIONS[region]}
            </button>
          ))}
      </div>
      {pin !== undefined && against && (error ? <NotSwept character={character} pin={pin} said={error.message} /> : changes && <Since changes={changes} pin={pin} />)}
      <Cells model={model} report={report} size={size} chosen={place} against={changes !== null} onRoom={setBox} onPoint={setPointed} onChoose={choose} />
      <Legend findings={report.findings} />
      <div className="mix-foot">
        {picture && <img src={picture} alt="The face in this pose" />}
        <p className="mix-said" role="status" aria-label="Cell">
          {said ? cellSaid(model, report, said.row, said.column) : 'Every control against every other. Choose a cell: the head goes there.'}
        </p>
      </div>
    </section>
  )
}

/** How much has changed. */
function Since({ changes, pin }: { changes: MixChange[]; pin: number }) {
  const counts = (['new', 'worse', 'better', 'gone'] as const).map((how) => [how, changes.filter((c) => c.how === how).length] as const)
  return (
    <p className="mix-since" role="status" aria-label="Since the pin">
      Since rev {pin}: {changes.length ? counts.filter(([, count]) => count).map(([how, count]) => <span key={how} className={how === 'new' || how === 'worse' ? 'worse' : 'better'}>{count} {how}</span>) : 'nothing has changed'}
    </p>
  )
}

function NotSwept({ character, pin, said }: { character: CharacterOut; pin: number; said: string }) {
  const sweep = useSweep(character, pin)
  return (
    <p className="mix-since" role="status" aria-label="Since the pin">
      {said}{' '}
      <Button size="small" loading={sweep.isPending} onClick={() => sweep.mutate()}>
        Sweep rev {pin}
      </Button>
    </p>
  )
}

/** What the signs stand for. */
function Legend({ findings }: { findings: BoardFinding[] }) {
  const signs = new Map(findings.map((f) => [SIGNS[f.kind], f.kind]))
  return (
    <ul className="mix-legend" aria-label="Signs">
      {[...signs].map(([said, kind]) => (
        <li key={said}>
          <Sign kind={kind} /> {said}
        </li>
      ))}
    </ul>
  )
}

function Sign({ kind }: { kind: BoardFinding['kind'] }) {
  const draw = (element: HTMLCanvasElement | null) => {
    const context = element?.getContext('2d')
    if (!element || !context) return
    const ratio = window.devicePixelRatio || 1
    element.width = element.height = SIGN * ratio
    context.setTransform(ratio, 0, 0, ratio, 0, 0)
    drawGlyph(context, kind, SIGN / 2, SIGN / 2, 5, getComputedStyle(element).getPropertyValue('--madder').trim())
  }
  return <canvas ref={draw} aria-hidden style={{ width: SIGN, height: SIGN }} />
}

/** Where a cell that is looked at is on the board as it is drawn now. */
function placeOf({ lines }: BoardModel, chosen: readonly [string, string] | null): Place | null {
  if (!chosen) return null
  const [row, column] = chosen.map((key) => lines.findIndex((l) => l.key === key || l.ends.some((e) => e.name === key))) as [number, number]
  return row < 0 || column < 0 ? null : { row: Math.max(row, column), column: Math.min(row, column) }
}

function filtersOf(character: CharacterOut, findings: BoardFinding[]) {
  const kinds = [...new Set(findings.map((f) => f.kind))]
  const seams = character.seams.filter((s) => findings.some((f) => f.about === s.name))
  return [
    { value: '', label: `All ${findings.length} findings` },
    { label: 'Of a kind', options: kinds.map((k) => ({ value: k, label: KINDS[k] })) },
    { label: 'Of a seam', options: seams.map((s) => ({ value: s.name, label: s.label })) },
  ]
}

/** The largest cell with which all of so many lines are seen. */
function fitting(count: number, { width, height }: { width: number; height: number }): number {
  const of = (margin: number) => Math.floor(Math.min((width - margin - 2) / count, (height - ABOVE - 2) / count))
  const labelled = of(WIDE)
  return Math.min(USUAL, Math.max(SMALLEST, labelled >= READABLE ? labelled : Math.min(of(NARROW), READABLE - 1)))
}

interface CellsProps {
  model: BoardModel
  report: MixReport
  size: number
  chosen: Place | null
  against: boolean
  onRoom: (room: { width: number; height: number }) => void
  onPoint: (place: Place | null) => void
  onChoose: (place: Place) => void
}

const STEPS: Record<string, readonly [number, number]> = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }

function Cells({ model, report, size, chosen, against, onRoom, onPoint, onChoose }: CellsProps) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const room = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const seen = new ResizeObserver(([entry]) => entry && onRoom({ width: entry.contentRect.width, height: entry.contentRect.height }))
    if (room.current) seen.observe(room.current)
    return () => seen.disconnect()
  }, [onRoom])
  const count = model.lines.length
  const margin = size >= READABLE ? WIDE : NARROW
  const side = margin + count * size + 2
  useEffect(() => {
    const element = canvas.current
    const context = element?.getContext('2d')
    if (!element || !context) return
    const ratio = window.devicePixelRatio || 1
    element.width = side * ratio
    element.height = (side - margin + ABOVE) * ratio
    context.setTransform(ratio, 0, 0, ratio, 0, (ABOVE - margin) * ratio)
    const style = getComputedStyle(element)
    const colour = (name: string) => style.getPropertyValue(`--${name}`).trim()
    drawBoard(context, report, model, size, margin, chosen, against, {
      card: colour('card'), line: colour('line'), ink: colour('ink'), quiet: colour('quiet'), spruce: colour('spruce'), saffron: colour('saffron'), madder: colour('madder'),
    })
  }, [model, report, size, margin, side, chosen, against])
  const at = (e: React.MouseEvent): Place | null => {
    const box = canvas.current!.getBoundingClientRect()
    const column = Math.floor((e.clientX - box.left - margin) / size)
    const row = Math.floor((e.clientY - box.top - ABOVE) / size)
    return column >= 0 && row >= column && row < count ? { row, column } : null
  }
  const step = (e: React.KeyboardEvent) => {
    const by = STEPS[e.key]
    if (!by || !count) return
    e.preventDefault()
    e.stopPropagation()
    const from = chosen ?? { row: 0, column: 0 }
    const row = Math.min(count - 1, Math.max(0, from.row + by[0]))
    const column = Math.min(row, Math.max(0, from.column + by[1]))
    onChoose({ row, column })
  }
  return (
    <div ref={room} className="mix-cells">
      {!count && <p className="quiet">Nothing is wrong of what is asked for.</p>}
      <canvas
        ref={canvas}
        role="grid"
        aria-label={`${count} by ${count} controls`}
        tabIndex={0}
        style={{ width: side, height: side - margin + ABOVE }}
        onMouseMove={(e) => onPoint(at(e))}
        onMouseLeave={() => onPoint(null)}
        onClick={(e) => {
          const place = at(e)
          if (place) onChoose(place)
        }}
        onKeyDown={step}
      />
    </div>
  )
}
