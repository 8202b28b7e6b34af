import type { BoneFinding, Step, WeightFinding } from '../api/client'
import type { useEdit } from '../state/edits'
import { FindingCard } from './FindingCard'

interface Props<F> {
  label: string
  /** What is said where nothing is wrong. */
  fine: string
  answer: { data?: F[]; error: Error | null }
  edit: ReturnType<typeof useEdit>
  onLook: (finding: F) => void
}

/** What is wrong, each with its place and, where there is one, its repair. */
export function FindingList<F extends BoneFinding | WeightFinding>({ label, fine, answer: { data, error }, edit, onLook }: Props<F>) {
  if (error) return <p className="madder">{error.message}</p>
  if (!data) return null
  if (!data.length)
    return (
      <p className="quiet" role="status" aria-label={label}>
        <span className="sign" /> {fine}
      </p>
    )
  return (
    <section aria-label={label}>
      {data.map((f, k) => (
        <FindingCard
          key={`${f.check} ${f.bone} ${k}`}
          title={f.title}
          text={f.text}
          pending={edit.isPending}
          onLook={() => onLook(f)}
          onRepair={f.edit ? () => edit.mutate({ edit: f.edit, params: f.params } as Step) : undefined}
        />
      ))}
    </section>
  )
}
