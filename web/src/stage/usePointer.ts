import { useRef, useState } from 'react'
import type { CharacterOut } from '../api/client'
import { useBench } from '../state/bench'
import type { Patch } from '../state/work/patch'
import { useEdit } from '../state/edits'
import { useLandmarks } from '../state/landmarks'
import type { StageEngine } from './engine'
import type { Hit } from './spots'

const CLICK = 4 // px the pointer may move between down and up to count as a click

type How = 'only' | 'add' | 'take'

/** The selection after a click: this vertex alone, with Shift beside the others, with Alt no longer. */
function picked(before: Patch | null, hit: Hit | null, how: How): Patch | null {
  if (!hit) return how === 'only' ? null : before
  const kept = before?.part === hit.part && how !== 'only' ? before.vertices.filter((v) => v !== hit.vertex) : []
  const vertices = how === 'take' ? kept : [...kept, hit.vertex]
  return vertices.length ? { part: hit.part, vertices } : null
}

/** What a click on the stage does: place the landmark that is missing, pick the bone in sight, else the vertex under it. */
export function usePointer(engine: StageEngine | null, character: CharacterOut, station: string) {
  const [hover, setHover] = useState<Hit | null>(null)
  const placing = useBench((s) => station === 'landmarks' && s.placing === 'landmarks')
  const set = useBench((s) => s.set)
  const { data } = useLandmarks(character, placing)
  const edit = useEdit(character)
  const down = useRef<{ x: number; y: number } | null>(null)
  const hovering = useRef(0)
  const place = (e: React.PointerEvent) => {
    const box = e.currentTarget.getBoundingClientRect()
    return { x: e.clientX - box.left, y: e.clientY - box.top }
  }
  const clicked = (x: number, y: number, how: How) => {
    const s = useBench.getState()
    const missing = placing && data?.marks.find((m) => m.name === s.mark && !m.placed)
    const skin = character.parts.find((p) => p.kind === 'skin')
    const point = missing && skin && engine?.pointOn(skin.name, x, y)
    if (missing && point) return edit.mutate({ edit: 'landmark.place', params: { name: missing.name, point, snap: s.snap, mirror: s.mirror } })
    const bone = engine?.pickBone(x, y)
    if (bone) return set({ bone, movingEnds: false })
    const hit = engine?.pick(x, y) ?? null
    // elsewhere a pick asks about one vertex, whatever was selected before
    set({ pick: hit, ...(hit ? { selectedPart: hit.part } : {}), selection: station === 'weights' || station === 'shapes' || s.shownMap ? picked(s.selection, hit, how) : null })
  }
  const handlers = {
    onPointerDown: (e: React.PointerEvent) => (down.current = place(e)),
    onPointerUp: (e: React.PointerEvent) => {
      const at = place(e)
      if (engine && down.current && Math.hypot(at.x - down.current.x, at.y - down.current.y) <= CLICK) clicked(at.x, at.y, e.shiftKey ? 'add' : e.altKey ? 'take' : 'only')
    },
    onPointerMove: (e: React.PointerEvent) => {
      if (!engine || e.buttons || hovering.current) return
      const at = place(e)
      hovering.current = requestAnimationFrame(() => {
        hovering.current = 0
        setHover(engine.pick(at.x, at.y))
        const hoveredBone = engine.pickBone(at.x, at.y)
        if (hoveredBone !== useBench.getState().hoveredBone) set({ hoveredBone })
      })
    },
    onPointerLeave: () => {
      setHover(null)
      set({ hoveredBone: null })
    },
  }
  return { hover, handlers }
}
