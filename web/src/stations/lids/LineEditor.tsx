import { Button } from 'antd'
import { useRef, useState } from 'react'
import type { CurveKey, EyeLids } from '../../api/client'
import { NumberField } from '../../ui/NumberField'

const SIZE = { width: 288, height: 150 }
const EDGE = 12
const CLOSEST = 0.02 // of the way between two keys
const REACH: [number, number] = [-0.5, 1.5]

interface Props {
  eye: EyeLids
  keys: CurveKey[]
  /** While a key is dragged. */
  onDraw: (keys: CurveKey[]) => void
  onSet: (keys: CurveKey[]) => void
}

/** The opening of the lids, unrolled about the eye, and the line they close on: keys are dragged, added by a double click, typed, deleted. */
export function LineEditor({ eye, keys, onDraw, onSet }: Props) {
  const svg = useRef<SVGSVGElement>(null)
  const [picked, setPicked] = useState(0)
  const [held, setHeld] = useState<'no' | 'still' | 'moved'>('no')
  const flip = eye.side === 'R' ? -1 : 1 // seen from in front: the character's left eye has its outer corner on the right
  const angles = [...eye.upper, ...eye.lower].map(([, angle]) => angle)
  const [low, high] = [Math.min(...angles) - 2, Math.max(...angles) + 2]
  const x = (at: number) => EDGE + (flip > 0 ? at : 1 - at) * (SIZE.width - 2 * EDGE)
  const y = (angle: number) => SIZE.height - EDGE - ((angle - low) / (high - low)) * (SIZE.height - 2 * EDGE)
  const on = (line: [number, number][], at: number) => {
    const k = Math.max(1, line.findIndex(([place]) => place >= at))
    const [[a, from], [b, to]] = [line[k - 1]!, line[k] ?? line[line.length - 1]!]
    return b === a ? from : from + ((to - from) * (at - a)) / (b - a)
  }
  const angleOf = (key: CurveKey) => on(eye.lower, key.at) + key.value * (on(eye.upper, key.at) - on(eye.lower, key.at))
  const path = (line: [number, number][]) => line.map(([at, angle], k) => `${k ? 'L' : 'M'}${x(at).toFixed(1)} ${y(angle).toFixed(1)}`).join('')
  const placed = (e: React.MouseEvent): CurveKey => {
    const box = svg.current!.getBoundingClientRect()
    const share = (e.clientX - box.left - EDGE) / (SIZE.width - 2 * EDGE)
    const at = Math.min(0.98, Math.max(0.02, flip > 0 ? share : 1 - share))
    const angle = low + ((SIZE.height - EDGE - (e.clientY - box.top)) / (SIZE.height - 2 * EDGE)) * (high - low)
    const [bottom, top] = [on(eye.lower, at), on(eye.upper, at)]
    return { at, value: Math.min(REACH[1], Math.max(REACH[0], top - bottom < 0.5 ? 0.5 : (angle - bottom) / (top - bottom))) }
  }
  const moved = (k: number, to: CurveKey): CurveKey[] => {
    const last = keys.length - 1
    const [before, after] = [k > 0 ? keys[k - 1]!.at + CLOSEST : 0, k < last ? keys[k + 1]!.at - CLOSEST : 1]
    // the keys at the corners stay at the corners
    const at = k === 0 || k === last ? keys[k]!.at : Math.min(after, Math.max(before, to.at))
    return keys.map((key, j) => (j === k ? { ...key, at, value: to.value } : key))
  }
  const drag = (e: React.PointerEvent, k: number) => {
    setPicked(k)
    e.currentTarget.setPointerCapture(e.pointerId)
    setHeld('still')
  }
  const key = keys[Math.min(picked, keys.length - 1)]!
  const at = keys.indexOf(key)
  return (
    <div className="line-editor">
      <svg
        ref={svg}
        width={SIZE.width}
        height={SIZE.height}
        className="sweep"
        role="group"
        aria-label={`Closed line of eye ${eye.side}`}
        onDoubleClick={(e) => {
          const made = placed(e)
          if (keys.every((k) => Math.abs(k.at - made.at) > CLOSEST)) onSet([...keys, made].sort((a, b) => a.at - b.at))
        }}
      >
        <path d={path(eye.upper)} fill="none" stroke="var(--quiet)" />
        <path d={path(eye.lower)} fill="none" stroke="var(--quiet)" />
        <path d={path(eye.line)} fill="none" stroke="var(--spruce)" strokeWidth="1.8" strokeDasharray="7 4" />
        <text x={x(0)} y={SIZE.height - 4} textAnchor={flip > 0 ? 'start' : 'end'} className="tiny">
          inner
        </text>
        <text x={x(1)} y={SIZE.height - 4} textAnchor={flip > 0 ? 'end' : 'start'} className="tiny">
          outer
        </text>
        {keys.map((k, n) => (
          <circle
            key={n}
            cx={x(k.at)}
            cy={y(angleOf(k))}
            r={n === at ? 6.5 : 5}
            fill={n === at ? 'var(--spruce)' : 'var(--card)'}
            stroke="var(--spruce)"
            strokeWidth="1.6"
            role="button"
            tabIndex={0}
            aria-label={`Key ${n + 1}`}
            aria-pressed={n === at}
            style={{ cursor: 'grab' }}
            onFocus={() => setPicked(n)}
            onPointerDown={(e) => drag(e, n)}
            onPointerMove={(e) => {
              if (held === 'no') return
              setHeld('moved')
              onDraw(moved(n, placed(e)))
            }}
            onPointerUp={() => {
              if (held === 'moved') onSet(keys)
              setHeld('no')
            }}
            onKeyDown={(e) => {
              const step = e.code === 'ArrowUp' ? 0.02 : e.code === 'ArrowDown' ? -0.02 : 0
              if (step) onSet(moved(n, { ...k, value: Math.min(REACH[1], Math.max(REACH[0], k.value + step)) }))
              if (e.code === 'Delete' && keys.length > 2 && n > 0 && n < keys.length - 1) onSet(keys.filter((_, j) => j !== n))
              if (step || e.code === 'Delete') e.preventDefault()
            }}
          />
        ))}
      </svg>
      <div className="row">
        <label>
          <span>Key {at + 1} at</span>
          <NumberField label="Place of the key" value={Math.round(key.at * 1000) / 10} low={0} high={100} unit="%" onChange={(v) => onSet(moved(at, { ...key, at: v / 100 }))} />
        </label>
        <label>
          <span>Height</span>
          <NumberField label="Height of the key" value={Math.round(key.value * 1000) / 10} low={-50} high={150} unit="%" onChange={(v) => onSet(moved(at, { ...key, value: v / 100 }))} />
        </label>
        <Button size="small" aria-label="Delete the key" disabled={at === 0 || at === keys.length - 1} onClick={() => onSet(keys.filter((_, j) => j !== at))}>
          Delete
        </Button>
      </div>
    </div>
  )
}
