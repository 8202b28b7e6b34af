import type { CharacterOut, WeightFinding } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { useWeightFindings } from '../../state/weightFindings'
import { FindingList } from '../FindingList'

const AROUND = 5 // cm round the vertices that are shown: what part of the head that is must be seen

/** What is wrong with weights, part by part: where, whose fault it is, and a repair. */
export function WeightFindings({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const set = useBench((s) => s.set)
  const frame = useBench((s) => s.frame)
  const answer = useWeightFindings(character)
  const show = (f: WeightFinding) => {
    const place = { part: f.part, vertices: f.vertices }
    set({ pick: null, selection: f.vertices.length ? place : null, selectedPart: f.part, ...(f.bone ? { weightBone: f.bone } : {}) })
    if (f.vertices.length) frame([place], AROUND)
  }
  const fine = 'Every part is carried by what should carry it, totals are 1, nothing strays.'
  return <FindingList label="Weight findings" fine={fine} answer={answer} edit={edit} onLook={show} trying={character} />
}
