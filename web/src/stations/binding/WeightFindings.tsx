import type { CharacterOut, Finding } from '../../api/client'
import { useBench } from '../../state/bench'
import { FindingList } from '../findings/FindingList'
import { lookAtVertices } from '../findings/lookAtVertices'

/** What is wrong with weights, part by part: where, whose fault it is, and a repair. */
export function WeightFindings({ character }: { character: CharacterOut }) {
  const set = useBench((s) => s.set)
  const show = (finding: Finding) => {
    if (finding.part && character.bones.some((b) => b.name === finding.about)) set({ weightBone: finding.about })
    lookAtVertices(finding)
  }
  const fine = 'Every part is carried by what should carry it, totals are 1, nothing strays.'
  return <FindingList character={character} station="weights" label="Weight findings" fine={fine} onLook={show} />
}
