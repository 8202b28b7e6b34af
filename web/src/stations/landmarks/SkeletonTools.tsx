import { Button, Input, Modal } from 'antd'
import { useState } from 'react'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'

interface Props {
  character: CharacterOut
  edit: ReturnType<typeof useEdit>
}

/** What concerns all bones: adding one, mirroring and swapping sides, names for export. */
export function SkeletonTools({ character, edit }: Props) {
  const [adding, setAdding] = useState(false)
  const [naming, setNaming] = useState(false)
  return (
    <>
      <h3>All bones</h3>
      <div className="skeleton-tools">
        <Button size="small" onClick={() => setAdding(true)}>
          Add a bone
        </Button>
        <Button size="small" onClick={() => edit.mutate({ edit: 'bones.mirror', params: { side: 'L' } })}>
          Mirror left to right
        </Button>
        <Button size="small" onClick={() => edit.mutate({ edit: 'bones.mirror', params: { side: 'R' } })}>
          Mirror right to left
        </Button>
        <Button size="small" title="For rigs whose left is the viewer's" onClick={() => edit.mutate({ edit: 'bones.swap_sides', params: {} })}>
          Swap sides
        </Button>
        <Button size="small" onClick={() => setNaming(true)}>
          Names for export
        </Button>
      </div>
      {adding && <AddBone character={character} edit={edit} onDone={() => setAdding(false)} />}
      {naming && <ExportNames character={character} edit={edit} onDone={() => setNaming(false)} />}
    </>
  )
}

function AddBone({ character, edit, onDone }: Props & { onDone: () => void }) {
  const picked = useBench((s) => s.bone)
  const mirror = useBench((s) => s.mirror)
  const [label, setLabel] = useState('')
  const parent = character.bones.find((b) => b.name === picked)
  const name = label.trim().toLowerCase().replace(/\W+/g, '_').replace(/_([lr])$/, (_, side: string) => `_${side.toUpperCase()}`)
  const add = () => {
    const base = (parent?.tip ?? character.guides.crown ?? [0, 0, 0]) as [number, number, number]
    const way = parent ? parent.tip.map((x, k) => (x - parent.base[k]!) / 2) : [0, 2, 0]
    const tip = base.map((x, k) => x + (way[k] ?? 0)) as [number, number, number]
    edit.mutate(
      { edit: 'bone.add', params: { name, label: label.trim(), parent: parent?.name ?? null, base, tip, role: 'deform', mirror } },
      {
        onSuccess: () => {
          useBench.setState({ bone: name, movingEnds: true })
          onDone()
        },
      },
    )
  }
  return (
    <Modal open title="Add a bone" okText="Add" onCancel={onDone} onOk={add} okButtonProps={{ disabled: !name, loading: edit.isPending }} width={380}>
      <p>
        {parent ? `It starts at the tip of ${parent.label}, its parent.` : 'It has no parent: pick a bone first to give it one.'} A label that ends in L or R brings its twin as well, while work is mirrored.
      </p>
      <Input aria-label="Label of the new bone" placeholder="Dimple L" value={label} autoFocus onChange={(e) => setLabel(e.target.value)} onPressEnter={() => name && add()} />
      {name && <p className="quiet num">{name}</p>}
    </Modal>
  )
}

/** A table of lines "bone, name", typed or pasted. */
function ExportNames({ character, edit, onDone }: Props & { onDone: () => void }) {
  const [text, setText] = useState(character.bones.map((b) => `${b.name}, ${b.export ?? b.name}`).join('\n'))
  const lines = text.split('\n').filter((line) => line.trim())
  const rows = lines.map((line) => line.split(/[,\t]/).map((cell) => cell.trim()))
  const wrong = rows.findIndex((row) => row.length !== 2 || !row[0] || !row[1])
  const keep = () => edit.mutate({ edit: 'bones.set_export_names', params: { names: Object.fromEntries(rows) as Record<string, string> } }, { onSuccess: onDone })
  return (
    <Modal open title="Names for export" okText="Keep" onCancel={onDone} onOk={keep} okButtonProps={{ disabled: wrong >= 0, loading: edit.isPending }} width={520}>
      <p>A line a bone: its name here, then what it is called in exported files. Paste from a spreadsheet, or type.</p>
      <Input.TextArea aria-label="Table of names" className="num" rows={16} value={text} onChange={(e) => setText(e.target.value)} />
      {wrong >= 0 && <p className="madder">“{lines[wrong]}” is not of the form bone, name.</p>}
    </Modal>
  )
}
