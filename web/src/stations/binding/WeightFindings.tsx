import type { CharacterOut, Finding } from '../../api/client'
import { useBench } from '../../state/bench'
import { FindingList } from '../findings/FindingList'

const AROUND = 5 // cm round the vertices that are shown: what part of the head that is must be seen

/** What is wrong with weights, part by part: where, whose fault it is, and a repair. */
export function WeightFindings({ character }: { character: CharacterOut }) {
  const set = useBench((s) => s.set)
  const frame = useBench((s) => s.frame)
  const show = ({ part, vertices = [], about }: Finding) => {
    if (!part) return
    const bone = character.bones.some((b) => b.name === about)
    set({ pick: null, selection: vertices.length ? { part, vertices } : null, selectedPart: part, ...(bone ? { weightBone: about } : {}) })
    if (vertices.length) frame([{ part, vertices }], AROUND)
  }
  const fine = 'Every part is carried by what should carry it, totals are 1, nothing strays.'
  return <FindingList character={character} station="weights" label="Weight findings" fine={fine} onLook={show} />
}
