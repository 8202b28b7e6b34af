import { useEffect, useRef, useState } from 'react'
import type { StageEngine } from '../engine'

export type Place = [number, number, number]

export interface Dot {
  key: string
  label: string
  point: Place
  /** Its look, as a class. */
  tone: string
  /** The part on whose surface it is dragged; null for one that is dragged beside itself, as deep as it lies. */
  on: string | null
}

interface Props {
  engine: StageEngine | null
  dots: Dot[]
  picked: string | null
  onPick: (key: string) => void
  /** Call `undo` where the dot may not stay where it was dropped. */
  onDrop: (key: string, point: Place, undo: () => void) => void
  /** What else moves while a dot is dragged: the key of that dot, and where it goes. */
  follows?: (key: string, point: Place) => { key: string; point: Place } | null
}

const CLICK = 3 // px a pointer may move and still only pick
const LOOK = 150 // ms after the last picture before it is asked which dots are hidden

/** Dots over the stage that can be picked and dragged: the one in front where several lie together. What the surface hides is faint, and
 * the pointer goes through it to what is there. */
export function Dots({ engine, dots, picked, onPick, onDrop, follows }: Props) {
  const layer = useRef<HTMLDivElement>(null)
  // what was dropped stays where it was let go until the new places are there
  const [moved, setMoved] = useState<{ among: Dot[]; places: Record<string, Place> }>({ among: [], places: {} })
  const places = moved.among === dots ? moved.places : {}
  const at = (dot: Dot) => places[dot.key] ?? dot.point
  const latest = useRef({ dots, at })
  useEffect(() => {
    latest.current = { dots, at }
  })

  useEffect(() => {
    if (!engine) return
    let waiting = 0
    const place = () => {
      const far = latest.current.dots.map((dot) => engine.pixelAt(latest.current.at(dot)))
      const ranks = far.map((f) => far.filter((other) => other > f).length)
      latest.current.dots.forEach((dot, k) => {
        const element = layer.current?.children[k] as HTMLElement | undefined
        const spot = engine.project(latest.current.at(dot))
        if (!element) return
        element.hidden = spot === null
        element.style.zIndex = String(ranks[k]! + (dot.on ? latest.current.dots.length : 0)) // what lies inside the head comes last
        if (spot) element.style.transform = `translate(${spot.x}px, ${spot.y}px)`
      })
      window.clearTimeout(waiting)
      waiting = window.setTimeout(look, LOOK)
    }
    const look = () =>
      latest.current.dots.forEach((dot, k) => {
        const element = layer.current?.children[k] as HTMLElement | undefined
        if (element) element.dataset.behind = !engine.sees(latest.current.at(dot)) ? (dot.on ? 'hidden' : 'inside') : ''
      })
    place()
    const stop = engine.watch(place)
    return () => {
      stop()
      window.clearTimeout(waiting)
    }
  }, [engine, dots, moved])

  const drag = useRef<{ key: string; x: number; y: number; on: boolean; point: Place | null } | null>(null)
  const pointed = (e: React.PointerEvent, dot: Dot): Place | null => {
    const box = layer.current!.getBoundingClientRect()
    const [x, y] = [e.clientX - box.left, e.clientY - box.top]
    return (dot.on ? engine?.pointOn(dot.on, x, y) : engine?.pointBeside(at(dot), x, y)) ?? null
  }
  return (
    <div ref={layer} className="dots">
      {dots.map((dot) => (
        <button
          key={dot.key}
          className={`dot-mark ${dot.tone}`}
          aria-label={dot.label}
          title={dot.label}
          aria-pressed={dot.key === picked}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId)
            drag.current = { key: dot.key, x: e.clientX, y: e.clientY, on: false, point: null }
          }}
          onPointerMove={(e) => {
            const d = drag.current
            if (d?.key !== dot.key) return
            d.on ||= Math.hypot(e.clientX - d.x, e.clientY - d.y) > CLICK
            const point = d.on && pointed(e, dot)
            if (!point) return
            d.point = point
            const other = follows?.(dot.key, point)
            setMoved({ among: dots, places: { [dot.key]: point, ...(other ? { [other.key]: other.point } : {}) } })
          }}
          onPointerUp={(e) => {
            const d = drag.current
            drag.current = null
            // moves that come thick and fast are left out: where it is let go is what counts
            const point = d?.point && (pointed(e, dot) ?? d.point)
            if (point) onDrop(dot.key, point, () => setMoved({ among: [], places: {} }))
            else onPick(dot.key)
          }}
          onKeyDown={(e) => e.key === 'Enter' && onPick(dot.key)}
        >
          {dot.key === picked && <span className="dot-label">{dot.label}</span>}
        </button>
      ))}
    </div>
  )
}
