import { Button } from 'antd'
import { useRef, useState } from 'react'
import type { CharacterOut, NeckReport } from '../../api/client'
import { useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { useJawCut, useNeck } from '../../state/jaw'
import { fitOf, pathOf } from '../../ui/drawing'
import { mm } from '../../ui/names'
import { NumberField } from '../../ui/NumberField'

const SIZE = { width: 288, height: 190 }
const EDGE = 8
const HARD = 0.1 // mm that a hard head may give
const REST = {}

interface Props {
  character: CharacterOut
  edit: ReturnType<typeof useEdit>
}

/** A hard head on a soft neck: the line above which nothing may give, what each movement does, and how the neck is skinned. */
export function NeckTools({ character, edit }: Props) {
  const [line, setLine] = useState<number | null>(null)
  const [amount, setAmount] = useState(100)
  const { data: neck, error } = useNeck(character, line)
  const selection = useBench((s) => s.selection)
  const tint = useBench((s) => s.tint)
  const set = useBench((s) => s.set)
  const goTo = useBench((s) => s.goTo)
  const skin = character.parts.find((p) => p.kind === 'skin')
  if (error || !neck || !skin) return <p>{error ? error.message : 'Turning the head …'}</p>
  const worst = Math.max(0, ...neck.readings.map((r) => r.squash))
  const picked = selection?.part === skin.name ? selection.vertices : null
  return (
    <div className="jaw-tools">
      <p className="quiet said">Above the line the head has to be rigid. Drag it, or type its height.</p>
      <SideView character={character} neck={neck} line={line ?? neck.line} onLine={setLine} />
      <div className="row">
        <label>
          <span>Height</span>
          <NumberField label="Height of the line" value={Math.round((line ?? neck.line) * 100) / 10} low={-10000} high={10000} unit="mm" onChange={(v) => setLine(v / 10)} />
        </label>
        <span className="quiet num">rigid from {(neck.hard_from * 10).toFixed(0)} mm</span>
        <Button size="small" disabled={edit.isPending || worst < HARD} title="What neck bones carry above the line goes to the head" onClick={() => edit.mutate({ edit: 'jaw.harden_head', params: { part: skin.name, above: line ?? neck.line } })}>
          Make it rigid
        </Button>
      </div>
      <table className="neck" aria-label="Movements of the head">
        <thead>
          <tr>
            <th>Movement</th>
            <th>Shifts</th>
            <th>Volume</th>
            <th title="If all of it were skinned by dual quaternions">dual</th>
          </tr>
        </thead>
        <tbody>
          {neck.readings.map((r) => (
            <tr key={r.label}>
              <td>
                <button className="bare" title="Go there" onClick={() => goTo(r.values)}>
                  {r.label}
                </button>
              </td>
              <td className={`num ${r.squash > HARD ? 'madder' : ''}`}>{mm(r.squash)}</td>
              <td className="num">{r.volume.toFixed(1)} %</td>
              <td className="num quiet">{r.volume_dual.toFixed(1)} %</td>
            </tr>
          ))}
        </tbody>
      </table>
      <h3>Skinning of {picked ? 'the selection' : 'the skin'}</h3>
      <div className="row">
        <label>
          <span>Dual quaternions</span>
          <NumberField label="Share of dual quaternions" value={amount} low={0} high={100} unit="%" onChange={setAmount} />
        </label>
        <Button size="small" disabled={edit.isPending} title={picked ? 'Softly round the picked vertices' : 'The whole skin; pick vertices for a region'} onClick={() => edit.mutate({ edit: 'binding.set_dual', params: { part: skin.name, amount: amount / 100, vertices: picked, soft: 2 } })}>
          Mix in
        </Button>
        <button className="chip" aria-pressed={tint === 'dual'} title="How far dual quaternions take each vertex from where linear skinning does" onClick={() => set({ tint: tint === 'dual' ? null : 'dual' })}>
          Show the difference
        </button>
      </div>
    </div>
  )
}

/** The middle of the head from the side, with the line to drag. */
function SideView({ character, neck, line, onLine }: { character: CharacterOut; neck: NeckReport; line: number; onLine: (line: number) => void }) {
  const { data: cut } = useJawCut(character, 'middle', 0, true, REST)
  const svg = useRef<SVGSVGElement>(null)
  const [held, setHeld] = useState(false)
  const [drawn, setDrawn] = useState<number | null>(null)
  if (!cut) return null
  const fit = fitOf({ ...SIZE, edge: EDGE }, cut.neutral.flat())
  const y = (v: number) => fit.at([0, v])[1]
  const at = (drawn ?? line) * 10
  const height = (e: React.PointerEvent) => fit.up(e.clientY - svg.current!.getBoundingClientRect().top) / 10
  return (
    <svg ref={svg} {...SIZE} className="sweep" role="group" aria-label="The head from the side">
      {cut.neutral.map((l, k) => (
        <path key={k} d={pathOf(l, fit.at)} fill="none" stroke="var(--ink)" strokeWidth="1.4" />
      ))}
      <path d={`M${EDGE} ${y(neck.hard_from * 10)}H${SIZE.width - EDGE}`} stroke="var(--quiet)" strokeDasharray="2 3" />
      <text x={SIZE.width - EDGE} y={y(neck.hard_from * 10) + 11} textAnchor="end" className="tiny">
        rigid from here
      </text>
      <path d={`M${EDGE} ${y(at)}H${SIZE.width - EDGE}`} stroke="var(--spruce)" strokeWidth="2" strokeDasharray="7 4" />
      <rect
        x={EDGE}
        y={y(at) - 7}
        width={SIZE.width - 2 * EDGE}
        height="14"
        fill="transparent"
        style={{ cursor: 'ns-resize' }}
        role="slider"
        tabIndex={0}
        aria-label="Line above which the head is rigid"
        aria-valuenow={Math.round(at)}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId)
          setHeld(true)
        }}
        onPointerMove={(e) => held && setDrawn(height(e))}
        onPointerUp={() => {
          if (drawn !== null) onLine(drawn)
          setHeld(false)
          setDrawn(null)
        }}
        onKeyDown={(e) => {
          const step = e.code === 'ArrowUp' ? 0.1 : e.code === 'ArrowDown' ? -0.1 : 0
          if (step) {
            onLine(line + step)
            e.preventDefault()
          }
        }}
      />
    </svg>
  )
}
