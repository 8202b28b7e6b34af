import { App, Button } from 'antd'
import { useState } from 'react'
import { fetchSelect, type CharacterOut, type SelectIn } from '../../api/client'
import { useBench } from '../../state/bench'
import { NumberField } from '../../ui/NumberField'
import { partLabel } from '../../ui/names'
import { KeptSelections } from './KeptSelections'

const WAYS: { how: SelectIn['how']; label: string; title: string }[] = [
  { how: 'grow', label: 'Wider', title: 'With all neighbours' },
  { how: 'shrink', label: 'Narrower', title: 'Without those at the edge' },
  { how: 'island', label: 'Island', title: 'All that hangs together' },
  { how: 'whole', label: 'Whole part', title: 'All vertices of the part' },
  { how: 'across', label: 'Other side', title: 'Their mirror images instead' },
  { how: 'invert', label: 'Invert', title: 'All others instead' },
]

/** Ways on from an edge: two neighbours that are both selected. */
const FROM_EDGES: typeof WAYS = [
  { how: 'loop', label: 'Loop', title: 'On along the edge loop through two selected neighbours' },
  { how: 'ring', label: 'Ring', title: 'On across the edge between two selected neighbours' },
]

/** What is selected, and ways to select more, less, or something else. */
export function SelectionTools({ character }: { character: CharacterOut }) {
  const { message } = App.useApp()
  const selection = useBench((s) => s.selection)
  const lasso = useBench((s) => s.lasso)
  const bone = useBench((s) => s.weightBone)
  const set = useBench((s) => s.set)
  const alone = useBench((s) => s.alone)
  const sheetOpen = useBench((s) => s.sheetOpen)
  const [range, setRange] = useState<[number, number]>([1, 100])
  const part = selection?.part ?? character.parts.find((p) => p.kind === 'skin')?.name ?? character.parts[0]!.name
  const label = character.bones.find((b) => b.name === bone)?.label ?? bone
  const go = (how: SelectIn['how'], more: Partial<SelectIn> = {}) =>
    fetchSelect(character.id, { revision: character.revision.number, part, vertices: selection?.vertices ?? [], how, low: 0.001, high: 1, ...more })
      .then(({ vertices }) => set({ selection: vertices.length ? { part, vertices } : null }))
      .catch((error: Error) => void message.error(error.message))
  return (
    <section aria-label="Selection">
      <p className="verdict" role="status">
        {selection ? `${selection.vertices.length.toLocaleString('en-GB')} ${selection.vertices.length === 1 ? 'vertex' : 'vertices'} of ${partLabel(selection.part)}` : 'Nothing is selected'}
      </p>
      {!selection && <p className="quiet">Click a vertex on the stage; Shift adds, Alt removes. Draw round what you want with the lasso; with Shift it stays for another loop, with Glass it takes what lies behind as well.</p>}
      <div className="skeleton-tools">
        <button className="chip" aria-pressed={lasso} onClick={() => set({ lasso: !lasso })}>
          Lasso
        </button>
        {WAYS.map(({ how, label, title }) => (
          <button key={how} className="chip" title={title} disabled={!selection && how !== 'whole'} onClick={() => void go(how)}>
            {label}
          </button>
        ))}
        <button className="chip" disabled={!selection} onClick={() => set({ selection: null })}>
          None
        </button>
        <button className="chip" aria-pressed={alone !== null} disabled={!selection && !alone} title="Draw nothing else" onClick={() => set({ alone: alone ? null : selection })}>
          Alone
        </button>
        <button className="chip" aria-pressed={sheetOpen} title="Its weights as a sheet under the stage" onClick={() => set({ sheetOpen: !sheetOpen })}>
          Sheet
        </button>
      </div>
      <div className="weight-line">
        <span style={{ width: 'auto' }}>From an edge</span>
        {FROM_EDGES.map(({ how, label, title }) => (
          <button key={how} className="chip" title={title} disabled={(selection?.vertices.length ?? 0) < 2} onClick={() => void go(how)}>
            {label}
          </button>
        ))}
      </div>
      <KeptSelections character={character} />
      <div className="weight-range">
        <span>{label} from</span>
        <NumberField label="Weight from" value={range[0]} low={0} high={100} unit="%" onChange={(v) => setRange([v, range[1]])} />
        <span>to</span>
        <NumberField label="Weight to" value={range[1]} low={0} high={100} unit="%" onChange={(v) => setRange([range[0], v])} />
        <Button size="small" onClick={() => void go('weight', { bone, low: range[0] / 100, high: range[1] / 100 })}>
          Select
        </Button>
      </div>
    </section>
  )
}
