import { App } from 'antd'
import { useQuery } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useMemo, useRef, useState } from 'react'
import { fetchWeightRows, type CharacterOut } from '../../../api/client'
import { useBench } from '../../../state/bench'
import { useEdit } from '../../../state/edits'
import { counted, partLabel } from '../../../ui/names'
import { copied, filledDown, pasted, spans, typedWeight, type Block, type Cell, type Range } from './block'

const MOST_ROWS = 2000 // that are asked for
const ROW = 22 // px
const BEYOND = 12 // rows that are made before they come into sight
const OFF = 1e-3
const RECEIVED = 4

/** The weights of the selection as a sheet: rows are vertices, columns bones, cells are typed, copied and pasted. */
export function WeightSheet({ character }: { character: CharacterOut }) {
  const { message } = App.useApp()
  const edit = useEdit(character)
  const selection = useBench((s) => s.selection)
  const pick = useBench((s) => s.pick)
  const locked = useBench((s) => s.locked)
  const keepTotal = useBench((s) => s.keepTotal)
  const chosen = useBench((s) => s.weightBone)
  const set = useBench((s) => s.set)
  const [range, setRange] = useState<Range | null>(null)
  const [typed, setTyped] = useState<string | null>(null)
  const [sort, setSort] = useState<string | null>(null)
  const asked = useMemo(() => selection && { part: selection.part, vertices: selection.vertices.slice(0, MOST_ROWS) }, [selection])
  const revision = character.revision.number
  const { data } = useQuery({
    queryKey: ['weight rows', character.id, revision, asked],
    queryFn: () => fetchWeightRows(character.id, revision, asked!.part, asked!.vertices),
    enabled: asked !== null,
    placeholderData: (before) => (asked ? before : undefined),
    retry: false,
  })
  const scroller = useRef<HTMLDivElement>(null)
  const label = (bone: string) => character.bones.find((b) => b.name === bone)?.label ?? bone
  const close = () => set({ sheetOpen: false })
  const bones = useColumns(data?.bones, asked?.part, chosen)
  const rows = useMemo(() => {
    const found = (data?.vertices ?? []).map((vertex, k) => ({ vertex, total: data!.totals[k]!, weights: bones.map((b) => data!.weights[k]![data!.bones.indexOf(b)] ?? 0) }))
    const column = sort === 'total' ? -2 : sort === null ? -1 : bones.indexOf(sort)
    if (column === -2) return found.sort((a, b) => Math.abs(b.total - 1) - Math.abs(a.total - 1))
    return column < 0 ? found : found.sort((a, b) => b.weights[column]! - a.weights[column]!)
  }, [data, bones, sort])
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: BEYOND })
  const inSight = virtual.getVirtualItems()
  const above = inSight[0]?.start ?? 0
  const below = virtual.getTotalSize() - (inSight.at(-1)?.end ?? 0)
  if (!selection || !asked)
    return (
      <Frame onClose={close}>
        <p className="quiet">Select vertices on the stage: each is a row here, each bone that carries them a column.</p>
      </Frame>
    )
  const give = (block: Block) => edit.mutate({ edit: 'weights.table', params: { part: asked.part, ...block, others: keepTotal ? 'share' : 'keep', locked } })
  const enter = () => {
    if (typed === null || !range) return
    const value = typedWeight(typed)
    setTyped(null)
    if (value === null) return void message.error('A weight is a number from 0 to 1, or 0 to 100 %.')
    const { top, bottom, left, right } = spans(range)
    const columns = bones.slice(left, right + 1)
    give({ vertices: rows.slice(top, bottom + 1).map((r) => r.vertex), bones: columns, weights: rows.slice(top, bottom + 1).map(() => columns.map(() => value)) })
  }
  const step = (e: React.KeyboardEvent) => {
    const by = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1], Enter: [1, 0], Tab: [0, 1] }[e.key]
    if ((e.ctrlKey || e.metaKey) && e.code === 'KeyZ') return // undo is the same everywhere
    e.stopPropagation() // a digit is a weight here, not a station
    if ((e.ctrlKey || e.metaKey) && e.code === 'KeyA') {
      e.preventDefault()
      return setRange({ from: { row: 0, column: 0 }, to: { row: rows.length - 1, column: bones.length - 1 } })
    }
    if (!range) return
    if ((e.ctrlKey || e.metaKey) && e.code === 'KeyD') {
      e.preventDefault()
      return give(filledDown(range, rows, bones))
    }
    if (by) {
      e.preventDefault()
      enter()
      const to: Cell = {
        row: Math.min(rows.length - 1, Math.max(0, range.to.row + by[0]!)),
        column: Math.min(bones.length - 1, Math.max(0, range.to.column + by[1]!)),
      }
      setRange({ from: e.shiftKey && e.key !== 'Enter' && e.key !== 'Tab' ? range.from : to, to })
      virtual.scrollToIndex(to.row)
    } else if (e.key === 'Escape') setTyped(null)
    else if (e.key === 'Backspace') setTyped((typed ?? '').slice(0, -1))
    else if (e.key === 'Delete') setTyped('0')
    else if (e.key.length === 1 && !e.ctrlKey && !e.metaKey) {
      e.preventDefault() // a space would scroll
      if (/[\d.,% ]/.test(e.key)) setTyped(((typed ?? '') + e.key).trimStart())
    }
  }
  const copy = (e: React.ClipboardEvent) => {
    e.preventDefault()
    e.clipboardData.setData('text/plain', copied(rows.map((r) => r.vertex), bones.map(label), rows.map((r) => r.weights), range))
  }
  const paste = (e: React.ClipboardEvent) => {
    e.preventDefault()
    const named = (text: string) => character.bones.find((b) => b.label === text || b.name === text)?.name
    const block = pasted(e.clipboardData.getData('text/plain'), range ?? { from: { row: 0, column: 0 }, to: { row: 0, column: 0 } }, rows.map((r) => r.vertex), bones, named)
    if (typeof block === 'string') void message.error(block)
    else give(block)
  }
  const inside = (row: number, column: number) => {
    if (!range) return false
    const { top, bottom, left, right } = spans(range)
    return row >= top && row <= bottom && column >= left && column <= right
  }
  const heading = (key: string, text: string) => (
    <th key={key} aria-sort={sort === key ? 'descending' : 'none'}>
      <button className="bare" title="Sort by it" onClick={() => setSort(sort === key ? null : key)}>
        {text}
        {sort === key ? ' ▾' : ''}
      </button>
    </th>
  )
  return (
    <Frame onClose={close} said={`${partLabel(asked.part)} · ${rows.length} of ${counted(selection.vertices.length, 'vertex', 'vertices')} · type in a cell, drag for several · Ctrl+A all, Ctrl+D down, Ctrl+C, Ctrl+V as text`}>
      <div className="sheet-scroll" ref={scroller} tabIndex={0} role="grid" aria-rowcount={rows.length} aria-label="Weights" aria-busy={edit.isPending} onKeyDown={step} onCopy={copy} onPaste={paste}>
        <table>
          <thead>
            <tr>
              <th>Vertex</th>
              {bones.map((b) => heading(b, label(b)))}
              {heading('total', 'Total')}
            </tr>
          </thead>
          <tbody>
            {above > 0 && <tr style={{ height: above }} />}
            {inSight.map(({ index: row }) => ({ row, r: rows[row]! })).map(({ row, r }) => (
              <tr key={r.vertex} aria-rowindex={row + 1} className={pick?.part === asked.part && pick.vertex === r.vertex ? 'picked' : ''}>
                <th>
                  <button className="bare num" title="Pick it on the stage" onClick={() => set({ pick: { part: asked.part, vertex: r.vertex } })}>
                    {r.vertex}
                    {r.weights.filter((w) => w > 0).length > RECEIVED && <span className="attention" title={`More than ${RECEIVED} influences`}> ●</span>}
                  </button>
                </th>
                {r.weights.map((w, column) => {
                  const here = inside(row, column)
                  const active = here && range?.to.row === row && range.to.column === column
                  return (
                    <td
                      key={bones[column]}
                      className={`num ${here ? 'in' : ''} ${w === 0 ? 'none' : ''} ${locked.includes(bones[column]!) ? 'held' : ''}`}
                      aria-selected={here}
                      onPointerDown={(e) => {
                        enter()
                        setRange({ from: e.shiftKey && range ? range.from : { row, column }, to: { row, column } })
                      }}
                      onPointerEnter={(e) => e.buttons === 1 && range && setRange({ ...range, to: { row, column } })}
                    >
                      {active && typed !== null ? <b>{typed}▏</b> : w === 0 ? '·' : w.toFixed(3)}
                    </td>
                  )
                })}
                <td className={`num ${Math.abs(r.total - 1) > OFF ? 'madder' : 'quiet'}`}>{r.total.toFixed(3)}</td>
              </tr>
            ))}
            {below > 0 && <tr style={{ height: below }} />}
          </tbody>
        </table>
      </div>
    </Frame>
  )
}

/** The bones that are columns. They keep their places while the same part is worked on, so that no column jumps away after an edit. */
function useColumns(found: string[] | undefined, part: string | undefined, chosen: string): string[] {
  const [kept, setKept] = useState<{ part?: string; bones: string[] }>({ bones: [] })
  const before = kept.part === part ? kept.bones : []
  const wanted = found ? [...new Set([...found, chosen])] : []
  const bones = [...before.filter((b) => wanted.includes(b)), ...wanted.filter((b) => !before.includes(b))]
  const same = kept.part === part && bones.join() === kept.bones.join()
  if (found && !same) setKept({ part, bones })
  return same ? kept.bones : bones
}

function Frame({ said, onClose, children }: { said?: string; onClose: () => void; children: React.ReactNode }) {
  return (
    <section className="sheet" aria-label="Weight sheet">
      <header className="row">
        <h3>Weight sheet</h3>
        <span className="quiet">{said}</span>
        <button className="bare quiet" aria-label="Close the sheet" onClick={onClose}>
          ✕
        </button>
      </header>
      {children}
    </section>
  )
}
