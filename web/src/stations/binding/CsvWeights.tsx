import { Button, Select } from 'antd'
import { useRef, useState } from 'react'
import { sendWeightCsv, type CharacterOut, type PartOut } from '../../api/client'
import { useChange } from '../../state/edits'
import { FileInput } from '../../ui/FileInput'
import { useSave } from '../../ui/useSave'

/** The weights of a part out and in as CSV. */
export function CsvWeights({ character, part }: { character: CharacterOut; part: PartOut }) {
  const input = useRef<HTMLInputElement>(null)
  const [match, setMatch] = useState<'order' | 'position'>('order')
  const take = useChange(character, (file: File, head) => sendWeightCsv(head, part.name, match, file))
  const save = useSave()
  return (
    <section aria-label="Weights">
      <h3>Weights as a table (CSV)</h3>
      <div className="weight-line">
        <Button size="small" onClick={() => save(`/api/characters/${character.id}/weights.csv?part=${encodeURIComponent(part.name)}`)}>
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
        <FileInput input={input} label="Weights as CSV" accept=".csv,text/csv" onChoose={([{ file }]) => take.mutate(file)} />
      </div>
    </section>
  )
}
