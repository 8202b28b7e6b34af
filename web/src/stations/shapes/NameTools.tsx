import { Button, Select } from 'antd'
import { useRef, useState } from 'react'
import { type CharacterOut, type ChosenList } from '../../api/client'
import { useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { useNameLists, useNames } from '../../state/shapes'
import { FileInput } from '../../ui/FileInput'
import { counted } from '../../ui/names'
import { useSave } from '../../ui/useSave'

interface Props {
  character: CharacterOut
  edit: ReturnType<typeof useEdit>
}

/** How the names stand to what a receiver wants, and all near ones put right in one go. */
export function NameTools({ character, edit }: Props) {
  const { data: lists } = useNameLists()
  const list = useBench((s) => s.nameList)
  const set = useBench((s) => s.set)
  const input = useRef<HTMLInputElement>(null)
  const save = useSave()
  const [theirs, setTheirs] = useState<Record<string, string>>({})
  const { data: names, error } = useNames(character, list)
  const chosen = list === null ? undefined : 'key' in list ? list.key : 'file'
  const near = names?.near.filter(([ours]) => theirs[ours] !== '') ?? []
  const rename = Object.fromEntries(near.map(([ours, wanted]) => [ours, theirs[ours] ?? wanted]))
  const open = [...(names?.near.map(([, wanted]) => wanted) ?? []), ...(names?.missing.map((m) => m.name) ?? [])]
  const choose = (next: ChosenList) => {
    setTheirs({})
    set({ nameList: next })
  }
  return (
    <div className="shape-tools">
      <div className="row">
        <Select
          size="small"
          aria-label="Name list"
          placeholder="Choose a name list"
          style={{ minWidth: 170 }}
          value={chosen}
          onChange={(key) => key !== 'file' && choose({ key })}
          options={[...(lists ?? []).map((l) => ({ value: l.key, label: l.name })), ...(list && 'file' in list ? [{ value: 'file', label: list.file }] : [])]}
        />
        <Button size="small" onClick={() => input.current?.click()}>
          From a file
        </Button>
        <FileInput input={input} label="File of a name list" accept=".json,.csv" onChoose={([{ file }]) => void file.text().then((text) => choose({ file: file.name, text }))} />
      </div>
      {error && <p className="madder">{error.message}</p>}
      {!list && <p className="quiet">A list says what the receiver of the rig calls each shape: JSON or CSV with name, twin, meaning and example.</p>}
      {names && (
        <>
          <p role="status" aria-label="Names">
            {counted(names.same.length, 'name')} as wanted, {names.near.length} near, {names.missing.length} missing, {names.extra.length} extra.
          </p>
          {names.near.length > 0 && (
            <>
              <ul className="names" aria-label="Near names">
                {names.near.map(([ours, wanted]) => (
                  <li key={ours}>
                    <span>{ours}</span> →
                    <Select size="small" aria-label={`What ${ours} becomes`} value={theirs[ours] ?? wanted} popupMatchSelectWidth={false} onChange={(v) => setTheirs({ ...theirs, [ours]: v })} options={[...open.map((n) => ({ value: n, label: n })), { value: '', label: 'leave it' }]} />
                  </li>
                ))}
              </ul>
              <Button size="small" type="primary" disabled={edit.isPending || !near.length} onClick={() => edit.mutate({ edit: 'shape.rename', params: { names: rename } })}>
                Rename {counted(near.length, 'shape')}
              </Button>
            </>
          )}
          {names.missing.length > 0 && (
            <details open={names.missing.length < 12}>
              <summary>Missing</summary>
              <ul className="names">
                {names.missing.map((m) => (
                  <li key={m.name}>
                    <span>{m.name}</span> <span className="quiet">{m.meaning}</span>
                  </li>
                ))}
              </ul>
            </details>
          )}
          {names.extra.length > 0 && (
            <details open={names.extra.length < 12}>
              <summary>Extra</summary>
              <p>{names.extra.join(', ')}</p>
            </details>
          )}
        </>
      )}
      <div className="row">
        <Button size="small" onClick={() => save(`/api/characters/${character.id}/shapes/names.csv`)}>
          Export our names
        </Button>
      </div>
    </div>
  )
}
