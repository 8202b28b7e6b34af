import { Button, Dropdown, Input, Select } from 'antd'
import { useState } from 'react'
import type { CharacterOut, PartOut, Step } from '../../api/client'
import { useEdit } from '../../state/edits'
import { partLabel, percent } from '../../ui/names'

const KINDS: PartOut['kind'][] = ['skin', 'eye', 'teeth upper', 'teeth lower', 'tongue', 'brow', 'lash', 'hair', 'whiskers', 'cloth', 'body', 'other']
const UNITS = [
  { value: 'mm', label: 'millimetre' },
  { value: 'cm', label: 'centimetre' },
  { value: 'dm', label: 'decimetre' },
  { value: 'm', label: 'metre' },
  { value: 'inch', label: 'inch' },
]

/** What came in: each part with its kind, which can be set, and the unit of the file. */
export function PartsSection({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const [renaming, setRenaming] = useState<string | null>(null)
  return (
    <>
      <h3>Parts</h3>
      {character.unit && (
        <div className="unit-row">
          <span>One unit of the file is one</span>
          <Select
            size="small"
            aria-label="Unit of the file"
            value={character.unit}
            options={UNITS}
            popupMatchSelectWidth={false}
            onChange={(unit) => edit.mutate({ edit: 'character.set_units', params: { unit } } as Step)}
          />
        </div>
      )}
      {character.parts.map((part) => (
        <div className="came-row" key={part.name}>
          {renaming === part.name ? (
            <NewName part={part} onName={(name) => edit.mutate({ edit: 'part.rename', params: { part: part.name, name } })} onEnd={() => setRenaming(null)} />
          ) : (
            <span title={saidOf(part)}>
              {partLabel(part.name)} <span className="num quiet">{part.vertices.toLocaleString('en-GB')}</span>
            </span>
          )}
          {part.delivered && (part.delivered.sure ?? 1) < 1 && (
            <span className="num attention" title="How sure the kind is that was guessed from name and shape">
              {percent(part.delivered.sure ?? 1)}
            </span>
          )}
          <Select
            size="small"
            aria-label={`Kind of ${partLabel(part.name)}`}
            value={part.kind}
            options={KINDS.map((kind) => ({ value: kind }))}
            popupMatchSelectWidth={false}
            onChange={(kind) => edit.mutate({ edit: 'part.set_kind', params: { part: part.name, kind } })}
          />
          <PartMenu character={character} part={part} onRename={() => setRenaming(part.name)} onStep={(step) => edit.mutate(step)} />
        </div>
      ))}
    </>
  )
}

interface MenuProps {
  character: CharacterOut
  part: PartOut
  onRename: () => void
  onStep: (step: Step) => void
}

function PartMenu({ character, part, onRename, onStep }: MenuProps) {
  const items = [
    { key: 'rename', label: 'Rename' },
    { key: 'split', label: 'Split into its islands' },
    { key: 'obj', label: <a href={`/api/characters/${character.id}/parts/${encodeURIComponent(part.name)}.obj`}>As OBJ</a> },
    { key: 'remove', label: 'Take out', danger: true },
  ]
  const act = ({ key }: { key: string }) => {
    if (key === 'rename') onRename()
    if (key === 'split') onStep({ edit: 'part.split_islands', params: { part: part.name } })
    if (key === 'remove') onStep({ edit: 'part.remove', params: { part: part.name } })
  }
  return (
    <Dropdown menu={{ items, onClick: act }} trigger={['click']}>
      <Button size="small" type="text" aria-label={`More for ${partLabel(part.name)}`}>
        ⋯
      </Button>
    </Dropdown>
  )
}

function NewName({ part, onName, onEnd }: { part: PartOut; onName: (name: string) => void; onEnd: () => void }) {
  const [name, setName] = useState(part.name)
  const take = () => {
    if (name.trim() && name.trim() !== part.name) onName(name.trim())
    onEnd()
  }
  return (
    <Input
      size="small"
      autoFocus
      aria-label={`New name of ${partLabel(part.name)}`}
      value={name}
      maxLength={80}
      onChange={(e) => setName(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        e.stopPropagation()
        if (e.key === 'Enter') take()
        if (e.key === 'Escape') onEnd()
      }}
    />
  )
}

/** Where a part came from, in words. */
function saidOf(part: PartOut): string {
  const { delivered, transform } = part
  const from = delivered ? `“${delivered.name}” of ${delivered.file}, ${delivered.vertex_count.toLocaleString('en-GB')} vertices there` : 'made here'
  return transform ? `${from}; ${transform}` : from
}
