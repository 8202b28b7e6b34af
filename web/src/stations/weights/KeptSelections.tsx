import { App, Button, Input, Popover, Select } from 'antd'
import { useState } from 'react'
import { fetchSelect, type CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { useStationFindings } from '../../state/findings'
import { partLabel } from '../../ui/names'

/** Selections to be found again: those that were kept under a name, and what findings speak of. */
export function KeptSelections({ character }: { character: CharacterOut }) {
  const { message } = App.useApp()
  const edit = useEdit(character)
  const selection = useBench((s) => s.selection)
  const set = useBench((s) => s.set)
  const { data: findings } = useStationFindings(character, 'weights')
  const [open, setOpen] = useState(false)
  const [name, setName] = useState('')
  const [last, setLast] = useState<string | null>(null)
  const told = (findings ?? []).flatMap(({ part, vertices = [], about, title }) => (part && vertices.length ? [{ part, vertices, about, title }] : []))
  const choose = (key: string) => {
    const finding = key.startsWith('finding ') ? told[Number(key.slice(8))] : undefined
    setLast(finding ? null : key)
    if (finding) return set({ selection: { part: finding.part, vertices: finding.vertices }, ...(character.bones.some((b) => b.name === finding.about) ? { weightBone: finding.about } : {}) })
    const kept = character.selections.find((s) => s.name === key)
    if (!kept) return
    fetchSelect(character.id, { revision: character.revision.number, part: kept.part, vertices: [], how: 'saved', saved: key, low: 0, high: 1 })
      .then(({ vertices }) => set({ selection: { part: kept.part, vertices } }))
      .catch((error: Error) => void message.error(error.message))
  }
  const keep = () =>
    selection &&
    edit.mutate(
      { edit: 'selection.keep', params: { name: name.trim(), ...selection } },
      {
        onSuccess: () => {
          setOpen(false)
          setName('')
        },
      },
    )
  const ask = (
    <span className="row">
      <Input size="small" aria-label="Name of the selection" value={name} autoFocus onChange={(e) => setName(e.target.value)} onPressEnter={() => name.trim() && keep()} onKeyDown={(e) => e.stopPropagation()} />
      <Button size="small" type="primary" disabled={!name.trim()} loading={edit.isPending} onClick={keep}>
        Keep
      </Button>
    </span>
  )
  return (
    <div className="weight-line">
      <Select
        size="small"
        aria-label="Kept selections"
        placeholder="Kept selections …"
        value={null}
        popupMatchSelectWidth={false}
        onChange={(key: string | null) => key && choose(key)}
        options={[
          { label: 'Kept', options: character.selections.map((s) => ({ value: s.name, label: `${s.name} · ${s.vertices} of ${partLabel(s.part)}` })) },
          { label: 'By finding', options: told.map((f, k) => ({ value: `finding ${k}`, label: `${f.title} · ${f.vertices.length} of ${partLabel(f.part)}` })) },
        ]}
      />
      <Popover open={open} onOpenChange={setOpen} trigger="click" content={ask} title="Keep the selection as">
        <Button size="small" disabled={!selection}>
          Keep
        </Button>
      </Popover>
      {last && character.selections.some((s) => s.name === last) && (
        <Button size="small" type="text" title={`Forget ${last}`} onClick={() => edit.mutate({ edit: 'selection.remove', params: { name: last } })}>
          ✕
        </Button>
      )}
    </div>
  )
}
