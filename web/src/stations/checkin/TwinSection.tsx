import { useMutation } from '@tanstack/react-query'
import { Button } from 'antd'
import { useRef } from 'react'
import { sendTwin, type CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { FileInput } from '../../ui/FileInput'
import { CheckRow } from './CheckRow'

/** Is a second file of the same head in the same vertex order? It is compared and forgotten. */
export function TwinSection({ character }: { character: CharacterOut }) {
  const twin = useBench((s) => s.twin)
  const set = useBench((s) => s.set)
  const input = useRef<HTMLInputElement>(null)
  const compare = useMutation({
    mutationFn: (files: File[]) => sendTwin(character.id, character.revision.number, files),
    onSuccess: (found) => set({ twin: found, check: found.key }),
  })
  return (
    <>
      <h3>Vertex order</h3>
      {twin && <CheckRow character={character} check={twin} limits={[]} />}
      <div className="row">
        <span className="quiet" style={{ flex: 1 }}>
          {compare.error ? <span className="madder">{compare.error.message}</span> : 'Shapes and later files fit only if the order is the same.'}
        </span>
        <Button size="small" loading={compare.isPending} onClick={() => input.current?.click()}>
          Compare a file
        </Button>
      </div>
      <FileInput input={input} label="Second file of this head" multiple onChoose={(chosen) => compare.mutate(chosen.map(({ file }) => file))} />
    </>
  )
}
