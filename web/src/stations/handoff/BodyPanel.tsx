import { Button } from 'antd'
import { useEffect, useRef, useState } from 'react'
import { fetchCharacter, type CharacterOut } from '../../api/client'
import { joinBody, type Delivered } from '../../api/imports'
import { useBench } from '../../state/bench'
import { useChange } from '../../state/edits'
import { FileInput } from '../../ui/FileInput'

const ENDINGS = '.glb,.gltf,.bin,.usd,.usda,.usdc,.usdz,.seam,.zip'

/** A body for the head to stand on: one edit, that undo takes back. */
export function BodyPanel({ character }: { character: CharacterOut }) {
  const flyTo = useBench((s) => s.flyTo)
  const input = useRef<HTMLInputElement>(null)
  const [notes, setNotes] = useState<string[]>([])
  const join = useChange(character, async (files: Delivered[], head) => {
    const { notes: said } = await joinBody(head, files, () => {}, new AbortController().signal)
    setNotes(said)
    return await fetchCharacter(head.id)
  })
  const stands = character.parts.some(({ kind }) => kind === 'body')
  const stood = useRef(stands)
  useEffect(() => {
    if (stood.current !== stands) flyTo('three-quarter') // the head is elsewhere now
    stood.current = stands
  }, [stands, flyTo])
  return (
    <section aria-label="Body">
      <h3>Body</h3>
      <p className="quiet">
        {stands
          ? 'This head stands on a body. Undo takes it away again.'
          : 'The head goes where the head bone of a body begins, and hangs on what is below its neck. A head and a face that the body has are left out; the neck fades into its chest.'}
      </p>
      {!stands && (
        <div className="row">
          <Button size="small" loading={join.isPending} onClick={() => input.current?.click()}>
            Join a body …
          </Button>
          <Button size="small" type="text" disabled={join.isPending} title="Shoulders and chest with a spine, to try it with" onClick={() => join.mutate([])}>
            Join the stand-in
          </Button>
        </div>
      )}
      <FileInput input={input} label="Files of a body" multiple accept={ENDINGS} onChoose={join.mutate} />
      {stands && notes.length > 0 && (
        <ul className="quiet" aria-label="What became of the body">
          {notes.map((note) => (
            <li key={note}>{note}</li>
          ))}
        </ul>
      )}
    </section>
  )
}
