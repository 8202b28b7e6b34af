import { useState } from 'react'
import { NameField } from '../../../ui/NameField'
import { partLabel } from '../../../ui/names'
import type { Row } from './rows'

const NAMED = { same: ['✓', 'As the name list wants it'], near: ['≈', 'Near a name of the list'], extra: ['–', 'Not on the name list'] } as const

interface Props {
  row: Row
  picture: string | undefined
  chosen: boolean
  onChoose: (how: 'only' | 'also' | 'up to') => void
  onAlone: () => void
  onRename: (name: string) => void
  onDrag?: () => void
  onDrop: () => void
  /** Up (-1) or down (1) in the list, by the keyboard. */
  onMove?: (by: number) => void
}

/** One shape of the sheet. */
export function ShapeRow({ row: r, picture, chosen, onChoose, onAlone, onRename, onDrag, onDrop, onMove }: Props) {
  const [renaming, setRenaming] = useState(false)
  const [glyph, meaning] = r.named ? NAMED[r.named] : ['', '']
  return (
    <div
      className="shape-row"
      role="option"
      aria-selected={chosen}
      aria-label={r.name}
      data-muted={r.muted}
      tabIndex={0}
      draggable={onDrag !== undefined}
      onClick={(e) => onChoose(e.shiftKey ? 'up to' : e.ctrlKey || e.metaKey ? 'also' : 'only')}
      onKeyDown={(e) => {
        if (e.key === ' ') onChoose(e.ctrlKey ? 'also' : 'only')
        else if (e.key === 'Enter') onAlone()
        else if (e.altKey && e.key === 'ArrowUp') onMove?.(-1)
        else if (e.altKey && e.key === 'ArrowDown') onMove?.(1)
        else if (e.key === 'ArrowUp') neighbour(e.currentTarget, 'previousElementSibling')
        else if (e.key === 'ArrowDown') neighbour(e.currentTarget, 'nextElementSibling')
        else return
        e.preventDefault()
        e.stopPropagation()
      }}
      onDragStart={onDrag}
      onDragOver={(e) => e.preventDefault()}
      onDrop={onDrop}
    >
      <span
        className="alone"
        title="This shape at full strength, alone (Enter)"
        data-alone={r.name}
        onClick={(e) => {
          e.stopPropagation()
          onAlone()
        }}
      >
        {picture ? <img src={picture} alt="" /> : <span className="blank" />}
      </span>
      <span
        className="name"
        title="Double click: rename"
        onDoubleClick={(e) => {
          e.stopPropagation()
          setRenaming(true)
        }}
      >
        {renaming ? (
          <NameField
            label={`Name of the shape ${r.name}`}
            value={r.name}
            onDone={(name) => {
              setRenaming(false)
              if (name) onRename(name)
            }}
          />
        ) : (
          <b>{r.name}</b>
        )}
        {r.label !== r.name && <span className="quiet"> {r.label}</span>}
      </span>
      <span className="quiet">{r.twin ? `↔ ${r.twin}` : ''}</span>
      <span className="quiet" title={Object.entries(r.parts).map(([part, n]) => `${partLabel(part)} ${n}`).join(', ')}>
        {Object.keys(r.parts).map(partLabel).join(', ') || 'nothing'}
      </span>
      <span className="num">{r.size.toFixed(1)} mm</span>
      <span className="quiet">{r.driven_by.length ? r.driven_by.join(', ') : 'no control'}</span>
      <span className="num" title={meaning}>
        {glyph}
      </span>
      <span className={r.checks.length ? 'madder' : 'quiet'} title={r.checks.map((c) => c.title).join('. ')}>
        {r.muted ? 'muted' : r.checks.length ? `▲ ${r.checks.map((c) => c.kind.replace('_', ' ')).join(', ')}` : '✓'}
      </span>
    </div>
  )
}

const neighbour = (row: HTMLElement, which: 'previousElementSibling' | 'nextElementSibling') => (row[which] as HTMLElement | null)?.focus()
