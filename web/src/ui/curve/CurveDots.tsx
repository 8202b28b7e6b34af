import { useRef, useState, type RefObject } from 'react'
import type { CurveKey } from '../../api/client'
import { deletable, moved, sloped, type CurveEditing, type CurvePlane } from './plane'

const STEP = 0.02 // of the range of values by which an arrow key moves a key
const HANDLE = 26 // px from a key to the ends of its tangent
const STEEPEST = 12 // ranges of values to a range of places

interface Props extends CurveEditing {
  svg: RefObject<SVGSVGElement | null>
}

/** The keys of a curve as dots to drag, the picked one with the ends of its own tangent. */
export function CurveDots({ svg, keys, picked, plane, onPick, onDraw, onSet }: Props) {
  const [held, setHeld] = useState<'no' | 'still' | 'moved'>('no')
  const steep = (STEEPEST * (plane.value[1] - plane.value[0])) / (plane.at[1] - plane.at[0])
  const pointed = (e: React.PointerEvent): [number, number] => {
    const box = svg.current!.getBoundingClientRect()
    return plane.place(e.clientX - box.left, e.clientY - box.top)
  }
  const dragging = (draw: (e: React.PointerEvent) => CurveKey[]) => ({
    style: { cursor: 'grab' },
    onPointerDown: (e: React.PointerEvent) => {
      e.currentTarget.setPointerCapture(e.pointerId)
      setHeld('still')
    },
    onPointerMove: (e: React.PointerEvent) => {
      if (held === 'no') return
      setHeld('moved')
      onDraw(draw(e))
    },
    onPointerUp: () => {
      if (held === 'moved') onSet(keys)
      setHeld('no')
    },
  })
  // a key that is held down nudges many times, and is one change
  const nudged = useRef<CurveKey[] | null>(null)
  const stored = () => {
    if (nudged.current) onSet(nudged.current)
    nudged.current = null
  }
  const key = keys[picked]
  return (
    <>
      {key?.slope != null && (
        <Tangent
          plane={plane}
          at={key.at}
          value={key.value}
          slope={key.slope}
          handle={dragging((e) => {
            const [at, value] = pointed(e)
            const run = at - key.at
            const slope = Math.abs(run) < 1e-6 ? steep : (value - key.value) / run
            return sloped(keys, picked, Math.max(-steep, Math.min(steep, slope)))
          })}
        />
      )}
      {keys.map((k, n) => {
        const [x, y] = plane.pixel(k.at, k.value)
        const drag = dragging((e) => {
          const [at, value] = pointed(e)
          return moved(keys, n, { at, value }, plane)
        })
        return (
          <circle
            key={n}
            cx={x}
            cy={y}
            r={n === picked ? 6.5 : 5}
            fill={n === picked ? 'var(--spruce)' : 'var(--card)'}
            stroke="var(--spruce)"
            strokeWidth="1.6"
            role="button"
            tabIndex={0}
            aria-label={`Key ${n + 1}`}
            aria-pressed={n === picked}
            {...drag}
            onFocus={() => onPick(n)}
            onPointerDown={(e) => {
              onPick(n)
              drag.onPointerDown(e)
            }}
            onKeyDown={(e) => {
              const step = (e.code === 'ArrowUp' ? STEP : e.code === 'ArrowDown' ? -STEP : 0) * (plane.value[1] - plane.value[0])
              if (step) {
                const now = nudged.current ?? keys // keys come quicker than what they draw
                nudged.current = moved(now, n, { at: now[n]!.at, value: now[n]!.value + step }, plane)
                onDraw(nudged.current)
              }
              if (e.code === 'Delete' && deletable(keys, n, plane)) onSet(keys.filter((_, j) => j !== n))
              if (step || e.code === 'Delete') e.preventDefault()
            }}
            onKeyUp={stored}
            onBlur={stored}
          />
        )
      })}
    </>
  )
}

interface TangentProps {
  plane: CurvePlane
  at: number
  value: number
  slope: number
  handle: React.SVGProps<SVGCircleElement>
}

function Tangent({ plane, at, value, slope, handle }: TangentProps) {
  const [x, y] = plane.pixel(at, value)
  const span = (plane.at[1] - plane.at[0]) / 100
  const [x2, y2] = plane.pixel(at + span, value + slope * span)
  const far = Math.hypot(x2 - x, y2 - y) || 1
  const [dx, dy] = [((x2 - x) / far) * HANDLE, ((y2 - y) / far) * HANDLE]
  return (
    <>
      <path d={`M${x - dx} ${y - dy}L${x + dx} ${y + dy}`} stroke="var(--plum)" strokeWidth="1.4" />
      {[-1, 1].map((end) => (
        <circle key={end} cx={x + end * dx} cy={y + end * dy} r={4} fill="var(--plum)" role="button" aria-label={end > 0 ? 'Tangent' : 'Tangent, other end'} {...handle} />
      ))}
    </>
  )
}
