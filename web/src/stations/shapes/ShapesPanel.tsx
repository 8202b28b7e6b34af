import { useEffect, useState } from 'react'
import type { CharacterOut, Finding } from '../../api/client'
import { shownValues, useBench } from '../../state/bench'
import { strengthOf } from '../../state/known'
import { useEdit } from '../../state/edits'
import { useStationFindings } from '../../state/findings'
import { useShapes } from '../../state/shapes'
import { ValueRow } from '../../ui/ValueRow'
import { counted } from '../../ui/names'
import { FindingList } from '../findings/FindingList'
import { PullList } from '../PullList'
import { ChangeTools } from './ChangeTools'
import { MakeTools } from './MakeTools'
import { NameTools } from './NameTools'
import { SculptTools } from './SculptTools'
import { Works } from '../../ui/Works'

const WORKS = ['make', 'sculpt', 'change', 'names', 'findings'] as const
type Work = (typeof WORKS)[number]
const LABELS: Record<Work, string> = { make: 'Make', sculpt: 'Sculpt', change: 'Change', names: 'Names', findings: 'Findings' }

/** The shape alone at full strength, and where it is wrong. */
function lookAt(finding: Finding) {
  const { goTo, set, frame } = useBench.getState()
  goTo({ [strengthOf(finding.about)]: 1 })
  const place = finding.part && finding.vertices?.length ? { part: finding.part, vertices: finding.vertices } : null
  set({ chosenShapes: [finding.about], selection: place })
  if (place) frame([place], 4)
}

/** Shapes made, sculpted, changed, named and checked; the sheet under the stage says which. */
export function ShapesPanel({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const [work, setWork] = useState<Work>('make')
  const set = useBench((s) => s.set)
  const sheetOpen = useBench((s) => s.shapeSheet)
  const chosen = useBench((s) => s.chosenShapes)
  const names = chosen.filter((n) => character.shapes.some((x) => x.name === n))
  const { data: shapes, error, isFetching } = useShapes(character)
  const found = useStationFindings(character, 'shapes')
  useEffect(() => {
    useBench.getState().flyTo('front')
    return () => useBench.getState().set({ sculpting: null, painting: false, shownMap: null, lasso: false })
  }, [])
  if (error || !shapes)
    return (
      <section aria-label="Shapes">
        <h2>Shapes</h2>
        <p>{error ? error.message : 'Reading the shapes …'}</p>
      </section>
    )
  return (
    <section aria-label="Shapes" className="shapes" aria-busy={isFetching || found.isFetching || edit.isPending}>
      <h2>
        Shapes <span className="quiet num">{character.shapes.length}</span>
        {!sheetOpen && (
          <button className="chip open-sheet" onClick={() => set({ shapeSheet: true })}>
            Open the sheet
          </button>
        )}
      </h2>
      <Works label="Work on shapes" chosen={work} onChoose={setWork} works={WORKS.map((key) => ({ key, label: LABELS[key] + (key === 'findings' && found.data?.length ? ` ${found.data.length}` : '') }))} />
      {work !== 'make' && work !== 'findings' && work !== 'names' && <Chosen character={character} names={names} />}
      {work === 'make' && <MakeTools character={character} units={shapes.units} edit={edit} />}
      {work === 'sculpt' && <SculptTools key={names.at(-1)} character={character} name={names.at(-1) ?? null} row={shapes.rows.find((r) => r.name === names.at(-1))} edit={edit} />}
      {work === 'change' && <ChangeTools character={character} names={names} shapes={shapes} edit={edit} />}
      {work === 'names' && <NameTools character={character} edit={edit} />}
      {work === 'findings' && (
        <FindingList character={character} station="shapes" label="Shape findings" fine="No shape is empty, stray, unlike its twin, out of order, counted twice, or leaves a part behind." onLook={lookAt} />
      )}
      {character.bones.length > 0 && work === 'sculpt' && <PullList character={character} />}
    </section>
  )
}

/** Which shape is worked on, and how strong it is in the pose on the stage by itself. */
function Chosen({ character, names }: { character: CharacterOut; names: string[] }) {
  const values = useBench(shownValues)
  const drag = useBench((s) => s.drag)
  const goTo = useBench((s) => s.goTo)
  const name = names.at(-1)
  const shape = character.shapes.find((s) => s.name === name)
  if (!shape) return <p className="quiet">Choose a shape in the sheet. With Ctrl or Shift held several can be chosen.</p>
  const own = strengthOf(shape.name)
  return (
    <div className="chosen-shape">
      <div className="row">
        <b>{shape.label}</b>
        {names.length > 1 && <span className="quiet">and {counted(names.length - 1, 'more', 'more')}</span>}
        <button className="chip" title="This shape at full strength, and nothing else" onClick={() => goTo({ [own]: 1 })}>
          Alone
        </button>
      </div>
      <ValueRow id="shape-strength" label="Strength" name={`Strength of ${shape.label}`} value={values[own] ?? 0} low={-1} high={1} rest={0} step={0.01} unit="" onChange={(v) => drag(own, v)} />
    </div>
  )
}
