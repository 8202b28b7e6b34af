import { Button, Checkbox } from 'antd'
import { useEffect, useState } from 'react'
import type { CharacterOut, SheetRow } from '../../api/client'
import { useBench } from '../../state/bench'
import type { SculptTool } from '../../state/work/shapes'
import type { useEdit } from '../../state/edits'
import { counted } from '../../ui/names'
import { NumberField } from '../../ui/NumberField'
import { BrushFields, PointerMode } from '../BrushFields'

const TOOLS: { tool: SculptTool; label: string; title: string }[] = [
  { tool: 'move', label: 'Move', title: 'Takes hold of the surface and drags it, softly less towards the edge' },
  { tool: 'swell', label: 'Swell', title: 'Out along the normals; with Ctrl held in' },
  { tool: 'sink', label: 'Sink', title: 'In along the normals; with Ctrl held out' },
  { tool: 'smooth', label: 'Smooth', title: 'Towards the neighbours; held Shift does it with any tool' },
  { tool: 'flatten', label: 'Flatten', title: 'Towards the plane that fits best' },
  { tool: 'erase', label: 'Erase', title: 'Back towards the neutral; with Ctrl held for most tools' },
]
const WAYS = ['left', 'up', 'forward'] as const

interface Props {
  character: CharacterOut
  name: string | null
  row?: SheetRow
  edit: ReturnType<typeof useEdit>
}

/** The chosen shape under the brush, on whatever pose is on the stage. */
export function SculptTools({ character, name, row, edit }: Props) {
  const [tinted, setTinted] = useState(false)
  const [below, setBelow] = useState(0.02)
  const painting = useBench((s) => s.painting)
  const tool = useBench((s) => s.sculptTool)
  const mirror = useBench((s) => s.mirror)
  const missed = useBench((s) => s.missed)
  const lasso = useBench((s) => s.lasso)
  const set = useBench((s) => s.set)
  useEffect(() => {
    set({ sculpting: name, missed: 0 })
    return () => set({ sculpting: null, painting: false, lasso: false })
  }, [set, name])
  useEffect(() => {
    set({ shownMap: tinted && name ? { shape: name, below } : null })
    return () => set({ shownMap: null })
  }, [set, name, tinted, below])
  const shape = character.shapes.find((s) => s.name === name)
  if (!shape) return null
  return (
    <div className="shape-tools">
      <PointerMode verb="Sculpt" />
      {painting ? (
        <>
          <div className="skeleton-tools">
            {TOOLS.map(({ tool: t, label, title }) => (
              <button key={t} className="chip" aria-pressed={tool === t} title={title} onClick={() => set({ sculptTool: t })}>
                {label}
              </button>
            ))}
          </div>
          <BrushFields shown={tool === 'move' ? ['radius'] : ['radius', 'strength']} />
        </>
      ) : (
        <div className="row">
          <button className="chip" aria-pressed={lasso} onClick={() => set({ lasso: !lasso })}>
            Lasso
          </button>
        </div>
      )}
      <div className="row">
        <Checkbox checked={mirror} onChange={(e) => set({ mirror: e.target.checked })}>
          Both sides
        </Checkbox>
        <Checkbox checked={tinted} onChange={(e) => setTinted(e.target.checked)}>
          Show what moves
        </Checkbox>
      </div>
      <p role="status" aria-label="What could not be reached" className={missed ? 'madder' : 'quiet said'}>
        {missed
          ? `Up to ${missed.toFixed(2)} mm could not be reached: lids, the ball of an eye or the lips hold the surface there in this pose.`
          : 'What you see is what is kept: bones, lids and reliefs of the pose are taken out of it.'}
      </p>
      <OffsetFields name={shape.name} edit={edit} />
      <div className="row">
        <span>Moving less than</span>
        <NumberField label="Tolerance" value={below} low={0.001} high={10} unit="mm" onChange={setBelow} />
        <Button size="small" disabled={edit.isPending || !row?.faint} title="These vertices stay where they are" onClick={() => edit.mutate({ edit: 'shape.clean', params: { name: shape.name, below } })}>
          Clean
        </Button>
      </div>
      {row && <p className="quiet said">{row.faint ? `${counted(row.faint, 'vertex', 'vertices')} moved by less than 0.02 mm.` : 'Nothing moves by less than can be seen.'}</p>}
    </div>
  )
}

/** Moves the picked vertices by typed millimetres. */
function OffsetFields({ name, edit }: { name: string; edit: ReturnType<typeof useEdit> }) {
  const selection = useBench((s) => s.selection)
  const [by, setBy] = useState({ left: 0, up: 0, forward: 0 })
  if (!selection) return <p className="quiet said">Picked vertices can be moved by typed millimetres.</p>
  return (
    <div className="row" role="group" aria-label="Move the picked vertices">
      {WAYS.map((way) => (
        <label key={way}>
          <span>{way}</span>
          <NumberField label={`By how much ${way}`} value={by[way]} low={-500} high={500} unit="mm" onChange={(v) => setBy({ ...by, [way]: v })} />
        </label>
      ))}
      <Button
        size="small"
        disabled={edit.isPending || !Object.values(by).some(Boolean)}
        onClick={() => edit.mutate({ edit: 'shape.offset', params: { name, part: selection.part, vertices: selection.vertices, ...by } })}
      >
        Move {counted(selection.vertices.length, 'vertex', 'vertices')}
      </Button>
    </div>
  )
}
