import type { BoneFinding, CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { useBoneFindings } from '../../state/landmarks'
import { FindingList } from '../FindingList'

interface Props {
  character: CharacterOut
  edit: ReturnType<typeof useEdit>
}

/** What is wrong with the bones. */
export function BoneFindings({ character, edit }: Props) {
  const answer = useBoneFindings(character)
  const set = useBench((s) => s.set)
  const lookAt = useBench((s) => s.lookAt)
  const show = (f: BoneFinding) => {
    set({ bone: f.bone })
    lookAt(f.place as [number, number, number])
  }
  return <FindingList label="Findings" fine="Bones stand where they should." answer={answer} edit={edit} onLook={show} />
}
