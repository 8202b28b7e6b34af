import { useMutation } from '@tanstack/react-query'
import { Button, Checkbox } from 'antd'
import { useRef, useState } from 'react'
import { sendReplay, type CharacterOut, type Outcome, type Step } from '../../api/client'
import { useEdit } from '../../state/edits'
import { FileInput } from '../../ui/FileInput'
import { useSave } from '../../ui/useSave'

interface Chosen {
  /** The revision that it is tried on. */
  on: number
  file: string
  text: string
  /** Numbers of the steps that are not wanted. */
  without: number[]
}

/** The edits of this character as a file; and those of another, made again on this one, with what could not be done. */
export function RecipePanel({ character }: { character: CharacterOut }) {
  const input = useRef<HTMLInputElement>(null)
  const [picked, setChosen] = useState<Chosen | null>(null)
  const edit = useEdit(character)
  const save = useSave()
  const { number } = character.revision
  const chosen = picked?.on === number ? picked : null // what was tried on an older state says nothing of this one
  const replay = useMutation({ mutationFn: ({ file, text }: Chosen) => sendReplay(character.id, number, file, text, null) })
  const made = useMutation({
    mutationFn: async ({ file, text, without }: Chosen) => {
      const wanted = replay.data!.outcomes.map((o) => o.number).filter((n) => !without.includes(n))
      const { step } = without.length ? await sendReplay(character.id, number, file, text, wanted) : replay.data!
      if (step) await edit.mutateAsync(step as Step)
    },
    onSuccess: () => setChosen(null),
  })
  const tryOut = (next: Chosen) => {
    setChosen(next)
    replay.mutate(next)
  }
  const outcomes = replay.data?.outcomes
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
        <FileInput input={input} label="Recipe to make again" accept=".json" onChoose={([{ file }]) => void file.text().then((text) => tryOut({ on: number, file: file.name, text, without: [] }))} />
      </div>
      {error && <p className="madder">{error.message}</p>}
      {chosen && outcomes && (
        <>
          <ul className="outcomes" aria-label="What becomes of each step">
            {outcomes.map((o) => (
              <Row key={o.number} outcome={o} wanted={!chosen.without.includes(o.number)} onWant={(on) => setChosen({ ...chosen, without: on ? chosen.without.filter((n) => n !== o.number) : [...chosen.without, o.number] })} />
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

function Row({ outcome, wanted, onWant }: { outcome: Outcome; wanted: boolean; onWant: (on: boolean) => void }) {
  const lost = outcome.done === 'not done'
  return (
    <li>
      <Checkbox checked={wanted && !lost} disabled={lost} onChange={({ target }) => onWant(target.checked)}>
        <span className={lost ? 'madder' : undefined}>{lost ? `Not done: ${outcome.text}` : outcome.text}</span>
      </Checkbox>
    </li>
  )
}
