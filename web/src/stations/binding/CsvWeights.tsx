import { App, Button, Select } from 'antd'
import { useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { saveFile, sendWeightCsv, type CharacterOut, type PartOut } from '../../api/client'

/** The weights of a part out and in as CSV. */
export function CsvWeights({ character, part }: { character: CharacterOut; part: PartOut }) {
  const { message } = App.useApp()
  const queries = useQueryClient()
  const input = useRef<HTMLInputElement>(null)
  const [match, setMatch] = useState<'order' | 'position'>('order')
  const save = () => void saveFile(`/api/characters/${character.id}/weights.csv?part=${encodeURIComponent(part.name)}`).catch((error: Error) => void message.error(error.message))
  const take = (file: File | undefined) => {
    if (!file) return
    sendWeightCsv(character.id, character.revision.number, part.name, match, file)
      .then((changed) => queries.setQueryData(['character', character.id], changed))
      .catch((error: Error) => void message.error(error.message, 6))
  }
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
            take(e.target.files?.[0])
            e.target.value = ''
          }}
        />
      </div>
    </section>
  )
}
