import { Alert, Button, Checkbox, Dropdown, Segmented, Spin } from 'antd'
import { useState } from 'react'
import type { CharacterOut, LandmarksOut, Mark, Step } from '../../api/client'
import { useBench } from '../../state/bench'
import type { Snap } from '../../state/work/landmarks'
import { useEdit } from '../../state/edits'
import { stateOf, useLandmarks } from '../../state/landmarks'
import { MarkDetail } from './MarkDetail'
import { inPairs, PairRow, unsided } from './PairRow'

const REGIONS: [Mark['region'], string][] = [
  ['eyes', 'Eyes and lids'], ['brows', 'Brows'], ['nose', 'Nose'], ['mouth', 'Mouth and cheeks'], ['jaw', 'Jaw'], ['ears', 'Ears'], ['tongue', 'Tongue'], ['head', 'Head and neck'],
]
const SNAPS: { value: Snap; label: string }[] = [
  { value: 'surface', label: 'Surface' },
  { value: 'vertex', label: 'Vertex' },
  { value: 'edge loop', label: 'Edge loop' },
]
const CLOSE = { on: 16, inside: 42 } // cm from which a landmark is looked at

/** The landmarks as a list: what is there, what is missing or doubtful, and where each belongs. */
export function MarksTab({ character }: { character: CharacterOut }) {
  const { data, error } = useLandmarks(character)
  if (error) return <Alert type="error" title={error.message} />
  if (!data) return <Spin style={{ margin: 24 }} />
  return <Marks character={character} data={data} />
}

function Marks({ character, data }: { character: CharacterOut; data: LandmarksOut }) {
  const edit = useEdit(character)
  const picked = useBench((s) => s.mark)
  const mirror = useBench((s) => s.mirror)
  const snap = useBench((s) => s.snap)
  const set = useBench((s) => s.set)
  const [only, setOnly] = useState(false)
  const states = new Map(data.marks.map((m) => [m.name, stateOf(m, data.doubtful)]))
  const count = (...wanted: string[]) => data.marks.filter((m) => wanted.includes(states.get(m.name)!)).length
  const [missing, doubtful] = [count('missing'), count('doubtful')]
  const findable = data.marks.some((m) => !m.placed && m.found)
  const more: { key: string; label: string; step: Step }[] = [
    { key: 'undecided', label: 'Suggest again unless confirmed', step: { edit: 'landmark.suggest', params: { which: 'undecided' } } },
    { key: 'all', label: 'Suggest all again', step: { edit: 'landmark.suggest', params: { which: 'all' } } },
    { key: 'L', label: 'Mirror left to right', step: { edit: 'landmark.mirror', params: { side: 'L' } } },
    { key: 'R', label: 'Mirror right to left', step: { edit: 'landmark.mirror', params: { side: 'R' } } },
  ]
  return (
    <section aria-label="Landmarks" aria-busy={edit.isPending}>
      <p className="verdict" role="status">
        {data.marks.length - missing} of {data.marks.length} placed
        {missing > 0 && <span className="madder">, {missing} missing</span>}
        {doubtful > 0 && <span className="attention">, {doubtful} doubtful</span>}
      </p>
      <div className="row">
        <Button
          type={missing ? 'primary' : 'default'}
          disabled={!findable}
          loading={edit.isPending}
          onClick={() => edit.mutate({ edit: 'landmark.suggest', params: { which: 'missing' } })}
        >
          Suggest what is missing
        </Button>
        <Dropdown menu={{ items: more.map(({ key, label }) => ({ key, label })), onClick: ({ key }) => edit.mutate(more.find((m) => m.key === key)!.step) }}>
          <Button>More</Button>
        </Dropdown>
      </div>
      <div className="row mark-tools">
        <Checkbox checked={mirror} onChange={(e) => set({ mirror: e.target.checked })}>
          Mirror (M)
        </Checkbox>
        <Segmented size="small" aria-label="Comes to rest on" value={snap} options={SNAPS} onChange={(snap) => set({ snap })} />
      </div>
      <Checkbox checked={only} onChange={(e) => setOnly(e.target.checked)}>
        Only what is missing or doubtful
      </Checkbox>
      {REGIONS.map(([region, label]) => {
        const own = data.marks.filter((m) => m.region === region && (!only || ['missing', 'doubtful'].includes(states.get(m.name)!)))
        if (!own.length) return null
        return (
          <div key={region}>
            <h3>{label}</h3>
            {inPairs(own, (m) => m.twin).map((pair) => {
              const open = pair.find((m) => m.name === picked)
              return (
                <PairRow
                  key={pair[0]!.name}
                  label={pair.length > 1 ? unsided(pair[0]!.label) : pair[0]!.label}
                  items={pair.map((m) => ({ name: m.name, label: m.label, side: m.twin ? m.name.slice(-1) : '', sign: `mark-sign ${states.get(m.name)}`, title: sureness(m) }))}
                  open={picked}
                  onPick={(name) => choose(data.marks.find((m) => m.name === name)!)}
                >
                  {open && <MarkDetail character={character} mark={open} state={states.get(open.name)!} />}
                </PairRow>
              )
            })}
          </div>
        )
      })}
    </section>
  )

  function choose(mark: Mark) {
    const open = picked === mark.name
    set({ mark: open ? null : mark.name })
    const point = (mark.placed ?? mark.found)?.point as [number, number, number] | undefined
    if (!open && point) useBench.setState({ camera: { view: null, point, close: CLOSE[mark.lies] } })
  }
}

function sureness(mark: Mark): string {
  if (!mark.placed) return 'Missing'
  return mark.placed.sure < 1 ? `Suggested, ${Math.round(mark.placed.sure * 100)} % sure` : 'Placed'
}
