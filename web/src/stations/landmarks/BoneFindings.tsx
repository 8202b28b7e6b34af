import type { CharacterOut, Finding } from '../../api/client'
import { useBench } from '../../state/bench'
import { FindingList } from '../findings/FindingList'

/** What is wrong with the bones. */
export function BoneFindings({ character }: { character: CharacterOut }) {
  const set = useBench((s) => s.set)
  const lookAt = useBench((s) => s.lookAt)
  const show = (f: Finding) => {
    set({ bone: f.about })
    if (f.point) lookAt(f.point as [number, number, number])
  }
  return <FindingList character={character} station="bones" label="Findings" fine="Bones stand where they should." onLook={show} />
}
