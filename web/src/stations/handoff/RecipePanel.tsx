import { useMutation } from '@tanstack/react-query'
import { Button, Checkbox } from 'antd'
import { useRef, useState } from 'react'
import { sendReplay, type CharacterOut, type Outcome, type Replay, type Step } from '../../api/client'
import { useEdit } from '../../state/edits'
import { FileInput } from '../../ui/FileInput'
import { useSave } from '../../ui/useSave'

interface Chosen {
  /** The revision that it is tried on. */
  on: number
  file: string
  text: string
  /** Numbers of all steps in the order in which they are made, once somebody changed it. */
  order: number[] | null
  /** Numbers of the steps that are not wanted. */
  without: number[]
  /** What would become of all of them in that order. */
  told: Replay
}

type Asked = Omit<Chosen, 'told'>

/** The edits of this character as a file; and those of another, made again on this one, with what could not be done. */
export function RecipePanel({ character }: { character: CharacterOut }) {
  const input = useRef<HTMLInputElement>(null)
  const [picked, setChosen] = useState<Chosen | null>(null)
  const edit = useEdit(character)
  const save = useSave()
  const { number } = character.revision
  const chosen = picked?.on === number ? picked : null // what was tried on an older state says nothing of this one
  const replay = useMutation({ mutationFn: ({ file, text, order }: Asked) => sendReplay(character.id, number, file, text, order) })
  const made = useMutation({
    mutationFn: async ({ file, text, without, told }: Chosen) => {
      const wanted = told.outcomes.map((o) => o.number).filter((n) => !without.includes(n))
      const { step } = without.length ? await sendReplay(character.id, number, file, text, wanted) : told
      if (step) await edit.mutateAsync(step as Step)
    },
    onSuccess: () => setChosen(null),
  })
  const tryOut = (next: Asked) => replay.mutate(next, { onSuccess: (told) => setChosen({ ...next, told }) })
  const outcomes = chosen?.told.outcomes
  const possible = outcomes?.filter((o) => o.done !== 'not done' && !chosen?.without.includes(o.number)).length ?? 0
  const error = replay.error ?? made.error
  return (
    <section aria-label="Recipe">
      <h3>Recipe</h3>
      <p className="quiet">All edits that led here, as a file. Made again on another head, its vertices and places are found by landmarks.</p>
      <div className="row">
        <Button size="small" onClick={() => save(`/api/characters/${character.id}/recipe`)}>
          Save the recipe
        </Button>
        <Button size="small" loading={replay.isPending} onClick={() => input.current?.click()}>
          Make one again …
        </Button>
        <FileInput input={input} label="Recipe to make again" accept=".json" onChoose={([{ file }]) => void file.text().then((text) => tryOut({ on: number, file: file.name, text, order: null, without: [] }))} />
      </div>
      {error && <p className="madder">{error.message}</p>}
      {chosen && outcomes && (
        <>
          <p className="quiet">Steps are made from top to bottom. After a step is moved all are tried anew.</p>
          <ul className="outcomes" aria-label="What becomes of each step">
            {outcomes.map((o, k) => (
              <Row key={o.number} outcome={o} place={k} last={outcomes.length - 1} busy={replay.isPending} onMove={(by) => tryOut({ ...chosen, order: moved(outcomes.map((each) => each.number), k, k + by) })} wanted={!chosen.without.includes(o.number)} onWant={(on) => setChosen({ ...chosen, without: on ? chosen.without.filter((n) => n !== o.number) : [...chosen.without, o.number] })} />
            ))}
          </ul>
          <div className="row">
            <Button type="primary" size="small" loading={made.isPending} disabled={!possible} onClick={() => made.mutate(chosen)}>
              {possible ? `Do these ${possible}` : 'Nothing can be done'}
            </Button>
            <Button size="small" type="text" onClick={() => setChosen(null)}>
              Leave it
            </Button>
          </div>
        </>
      )}
    </section>
  )
}

interface RowProps {
  outcome: Outcome
  /** Which of the steps it is, from 0, and which is the last. */
  place: number
  last: number
  busy: boolean
  wanted: boolean
  onWant: (on: boolean) => void
  onMove: (by: 1 | -1) => void
}

const moved = (numbers: number[], from: number, to: number) => {
  const rest = numbers.filter((_, k) => k !== from)
  return [...rest.slice(0, to), numbers[from]!, ...rest.slice(to)]
}

function Row({ outcome, place, last, busy, wanted, onWant, onMove }: RowProps) {
  const lost = outcome.done === 'not done'
  return (
    <li>
      <Checkbox checked={wanted && !lost} disabled={lost} onChange={({ target }) => onWant(target.checked)}>
        <span className={lost ? 'madder' : undefined}>{lost ? `Not done: ${outcome.text}` : outcome.text}</span>
      </Checkbox>
      <span className="order">
        <Button size="small" type="text" aria-label={`Make earlier: ${outcome.text}`} disabled={busy || place === 0} onClick={() => onMove(-1)}>
          ↑
        </Button>
        <Button size="small" type="text" aria-label={`Make later: ${outcome.text}`} disabled={busy || place === last} onClick={() => onMove(1)}>
          ↓
        </Button>
      </span>
    </li>
  )
}
