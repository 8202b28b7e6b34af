import { useRef, useState } from 'react'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import type { StageEngine } from '../engine'
import { lassoed } from './lassoed'

/** Selects what is drawn round, of the part that is worked on: what can be seen of it, with Glass on all of it. After one loop the stage is
 * turned and picked on again; with Shift or Alt held, which add and take away, another can be drawn. */
export function Lasso({ engine, character }: { engine: StageEngine | null; character: CharacterOut }) {
  const layer = useRef<SVGSVGElement>(null)
  const [line, setLine] = useState<{ x: number; y: number }[]>([])
  const through = useBench((s) => s.display.glass)
  const set = useBench((s) => s.set)
  const part = useBench((s) => s.selection?.part ?? s.selectedPart) ?? character.parts.find((p) => p.kind === 'skin')?.name
  const at = (e: React.PointerEvent) => {
    const box = layer.current!.getBoundingClientRect()
    return { x: e.clientX - box.left, y: e.clientY - box.top }
  }
  const done = (e: React.PointerEvent) => {
    if (engine && part && line.length > 2) {
      const found = lassoed(engine, part, [...line, at(e)], !through)
      const before = useBench.getState().selection
      const own = before?.part === part ? before.vertices : []
      const vertices = e.shiftKey ? [...new Set([...own, ...found])] : e.altKey ? own.filter((v) => !found.includes(v)) : found
      set({ selection: vertices.length ? { part, vertices } : null })
    }
    setLine([])
    if (!e.shiftKey && !e.altKey) set({ lasso: false })
  }
  return (
    <svg
      ref={layer}
      className="lasso"
      aria-label="Lasso"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId)
        setLine([at(e)])
      }}
      onPointerMove={(e) => line.length && setLine([...line, at(e)])}
      onPointerUp={done}
    >
      {line.length > 1 && <polygon points={line.map((p) => `${p.x},${p.y}`).join(' ')} />}
    </svg>
  )
}
