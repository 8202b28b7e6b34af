import { Button, Input, Select } from 'antd'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useMemo, useRef, useState } from 'react'
import type { CharacterOut } from '../../../api/client'
import { pictureKey } from '../../../stage/thumbnails'
import { useBench } from '../../../state/bench'
import { strengthOf } from '../../../state/known'
import { useEdit } from '../../../state/edits'
import { useStationFindings } from '../../../state/findings'
import { useNames, useShapes } from '../../../state/shapes'
import { counted } from '../../../ui/names'
import { RenameMany } from './RenameMany'
import { chosenAfter, filtered, grouped, rowsOf, sorted, type Group, type Sort } from './rows'
import { ShapeRow } from './ShapeRow'

const ROW = 46 // px
const TITLE = 30
const HEADS = 22
const BEYOND = 16 // rows that are made before they come into sight

/** All shapes in a row each: what they cover, how far they go, what is wrong with them. Chosen, sorted, grouped, put in order by dragging. */
export function ShapeSheet({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const [filter, setFilter] = useState('')
  const [sort, setSort] = useState<Sort>('list')
  const [group, setGroup] = useState<Group>('none')
  const [dragged, setDragged] = useState<string[]>([])
  const [renaming, setRenaming] = useState(false)
  const chosen = useBench((s) => s.chosenShapes)
  const pictures = useBench((s) => s.shapePictures)
  const list = useBench((s) => s.nameList)
  const set = useBench((s) => s.set)
  const goTo = useBench((s) => s.goTo)
  const { data } = useShapes(character)
  const { data: findings } = useStationFindings(character, 'shapes')
  const { data: names } = useNames(character, list)
  const labels = useMemo(() => new Map(character.controls.map((c) => [c.name, c.label])), [character.controls])
  const groups = useMemo(() => grouped(sorted(filtered(rowsOf(data?.rows ?? [], findings ?? [], names, labels), filter), sort), group), [data, findings, names, labels, filter, sort, group])
  const lines = groups.flatMap((g) => [...(g.title ? [g.title] : []), ...g.rows])
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({ count: lines.length, getScrollElement: () => scroller.current, estimateSize: (k) => (typeof lines[k] === 'string' ? TITLE : ROW), overscan: BEYOND, scrollPaddingEnd: HEADS })
  const last = lines.findIndex((line) => typeof line !== 'string' && line.name === chosen.at(-1))
  useEffect(() => {
    if (last >= 0) virtual.scrollToIndex(last)
    // when another is chosen, and not whenever the list moves
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosen])
  const inSight = virtual.getVirtualItems()
  const shown = groups.flatMap((g) => g.rows.map((r) => r.name))
  const there = chosen.filter((n) => character.shapes.some((s) => s.name === n))
  const digests = new Map(character.shapes.map((s) => [s.name, pictureKey(s)]))
  const muted = data?.rows.filter((r) => there.includes(r.name)).every((r) => r.muted)
  const order = sort === 'list' && group === 'none'
  const drop = (before: string | null) => {
    if (dragged.length && !dragged.includes(before ?? '')) edit.mutate({ edit: 'shape.move', params: { names: dragged, before } })
    setDragged([])
  }
  const act = (label: string, disabled: boolean, run: () => void) => (
    <Button key={label} size="small" disabled={disabled || edit.isPending} onClick={run}>
      {label}
    </Button>
  )
  return (
    <section className="sheet shape-sheet" aria-label="Shape sheet" aria-busy={edit.isPending}>
      <header className="row">
        <Input size="small" allowClear aria-label="Filter of the sheet" placeholder="Filter" style={{ width: 120 }} value={filter} onChange={(e) => setFilter(e.target.value)} onKeyDown={(e) => e.stopPropagation()} />
        <Select<Sort> size="small" aria-label="Sort" value={sort} onChange={setSort} options={[{ value: 'list', label: 'In order' }, { value: 'name', label: 'By name' }, { value: 'size', label: 'By size' }]} />
        <Select<Group> size="small" aria-label="Group" value={group} onChange={setGroup} options={[{ value: 'none', label: 'No groups' }, { value: 'side', label: 'By side' }, { value: 'part', label: 'By parts' }, { value: 'check', label: 'By checks' }]} />
        <span className="quiet">{there.length > 1 ? `${there.length} chosen` : counted(shown.length, 'shape')}</span>
        {act('Duplicate', !there.length, () => edit.mutate({ edit: 'shape.duplicate', params: { names: there } }))}
        {act('Rename', !there.length, () => setRenaming(true))}
        {act(muted && there.length ? 'Unmute' : 'Mute', !there.length, () => edit.mutate({ edit: 'shape.mute', params: { names: there, muted: !muted } }))}
        {act('Delete', !there.length, () => edit.mutate({ edit: 'shape.remove', params: { names: there } }, { onSuccess: () => set({ chosenShapes: [] }) }))}
        <button className="bare" aria-label="Close the sheet" onClick={() => set({ shapeSheet: false })}>
          ×
        </button>
      </header>
      <div className="sheet-scroll" ref={scroller} role="listbox" aria-label="Shapes in the sheet" aria-multiselectable tabIndex={-1}>
        {!character.shapes.length && <p className="quiet">No shapes yet. Make the first at the right: from the neutral, from a pose, from landmarks or from files.</p>}
        {shown.length > 0 && (
          <div className="shape-heads" aria-hidden>
            {['', 'Name', 'Twin', 'Parts', 'Size', 'Driven by', 'List', 'Checks'].map((head) => (
              <span key={head}>{head}</span>
            ))}
          </div>
        )}
        {inSight.length > 0 && <div style={{ height: inSight[0]!.start, flex: 'none' }} />}
        {inSight
          .map(({ index }) => lines[index]!)
          .map((r) =>
            typeof r === 'string' ? (
              <h3 key={`title ${r}`} className="group-title">
                {r}
              </h3>
            ) : (
              <ShapeRow
                key={r.name}
                row={r}
                picture={pictures[digests.get(r.name) ?? '']}
                chosen={there.includes(r.name)}
                onChoose={(how) => set({ chosenShapes: chosenAfter(there, shown, r.name, how) })}
                onAlone={() => {
                  set({ chosenShapes: [r.name] })
                  goTo({ [strengthOf(r.name)]: 1 })
                }}
                onRename={(name) => edit.mutate({ edit: 'shape.rename', params: { names: { [r.name]: name } } }, { onSuccess: () => set({ chosenShapes: [name] }) })}
                onDrag={order ? () => setDragged(there.includes(r.name) ? there : [r.name]) : undefined}
                onDrop={() => drop(r.name)}
                onMove={order ? (by) => {
                  const to = shown.indexOf(r.name) + (by < 0 ? -1 : 2)
                  if (to >= 0) edit.mutate({ edit: 'shape.move', params: { names: [r.name], before: shown[to] ?? null } })
                } : undefined}
              />
            ),
          )}
        {inSight.length > 0 && <div style={{ height: virtual.getTotalSize() - inSight.at(-1)!.end, flex: 'none' }} />}
        {order && dragged.length > 0 && <div className="drop-end" onDragOver={(e) => e.preventDefault()} onDrop={() => drop(null)} />}
      </div>
      {renaming && <RenameMany names={there} edit={edit} onClose={() => setRenaming(false)} />}
    </section>
  )
}
