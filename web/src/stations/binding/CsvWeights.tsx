import { App, Button, Select } from 'antd'
import { useRef, useState } from 'react'
import { saveFile, sendWeightCsv, type CharacterOut, type PartOut } from '../../api/client'
import { useChange } from '../../state/edits'

/** The weights of a part out and in as CSV. */
export function CsvWeights({ character, part }: { character: CharacterOut; part: PartOut }) {
  const { message } = App.useApp()
  const input = useRef<HTMLInputElement>(null)
  const [match, setMatch] = useState<'order' | 'position'>('order')
  const take = useChange(character, (file: File, { revision }) => sendWeightCsv(character.id, revision.number, part.name, match, file))
  const save = () => void saveFile(`/api/characters/${character.id}/weights.csv?part=${encodeURIComponent(part.name)}`).catch((error: Error) => void message.error(error.message))
  return (
    <section aria-label="Weights">
      <h3>Weights as a table (CSV)</h3>
      <div className="weight-line">
        <Button size="small" onClick={save}>
          Save
        </Button>
        <Button size="small" onClick={() => input.current?.click()}>
          Read …
        </Button>
        <Select
          size="small"
          aria-label="Match by"
          value={match}
          onChange={setMatch}
          options={[
            { value: 'order', label: 'by vertex number' },
            { value: 'position', label: 'by position' },
          ]}
        />
        <input
          ref={input}
          type="file"
          accept=".csv,text/csv"
          hidden
          aria-label="Weights as CSV"
          onChange={(e) => {
            const file = e.target.files?.[0]
            if (file) take.mutate(file)
            e.target.value = ''
          }}
        />
      </div>
    </section>
  )
}
