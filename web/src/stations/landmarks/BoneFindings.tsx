import type { BoneFinding, CharacterOut, Step } from '../../api/client'
import { useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { useBoneFindings } from '../../state/landmarks'
import { FindingCard } from '../FindingCard'

interface Props {
  character: CharacterOut
  edit: ReturnType<typeof useEdit>
}

/** What is wrong with the bones, each with its place and, where there is one, its repair. */
export function BoneFindings({ character, edit }: Props) {
  const { data, error } = useBoneFindings(character)
  const set = useBench((s) => s.set)
  const lookAt = useBench((s) => s.lookAt)
  if (error) return <p className="madder">{error.message}</p>
  if (!data) return null
  if (!data.length)
    return (
      <p className="quiet" role="status">
        <span className="sign" /> Bones stand where they should.
      </p>
    )
  const show = (f: BoneFinding) => {
    set({ bone: f.bone })
    lookAt(f.place as [number, number, number])
  }
  return (
    <section aria-label="Findings">
      {data.map((f) => (
        <FindingCard
          key={`${f.check} ${f.bone}`}
          title={f.title}
          text={f.text}
          pending={edit.isPending}
          onLook={() => show(f)}
          onRepair={f.edit ? () => edit.mutate({ edit: f.edit, params: f.params } as Step) : undefined}
        />
      ))}
    </section>
  )
}
