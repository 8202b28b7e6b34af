import { useQuery } from '@tanstack/react-query'
import { fetchWeightFindings, type CharacterOut, type Step, type WeightFinding } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { FindingCard } from '../FindingCard'

/** What is wrong with weights, part by part: where, whose fault it is, and a repair. */
export function WeightFindings({ character }: { character: CharacterOut }) {
  const { id, revision } = character
  const edit = useEdit(character)
  const set = useBench((s) => s.set)
  const frame = useBench((s) => s.frame)
  const { data, error } = useQuery({
    queryKey: ['weight findings', id, revision.number],
    queryFn: () => fetchWeightFindings(id, revision.number),
    placeholderData: (before) => before,
    retry: false,
  })
  if (error) return <p className="madder">{error.message}</p>
  if (!data) return null
  if (!data.length)
    return (
      <p className="quiet" role="status" aria-label="Weights">
        <span className="sign" /> Every part is carried by what should carry it, totals are 1, nothing strays.
      </p>
    )
  const show = (f: WeightFinding) => {
    const place = { part: f.part, vertices: f.vertices }
    set({ selection: f.vertices.length ? place : null, selectedPart: f.part, ...(f.bone ? { weightBone: f.bone } : {}) })
    if (f.vertices.length) frame([place])
  }
  return (
    <section aria-label="Weight findings">
      {data.map((f) => (
        <FindingCard
          key={`${f.check} ${f.part} ${f.bone} ${f.vertices[0]}`}
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
