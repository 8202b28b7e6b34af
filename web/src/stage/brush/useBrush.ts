import { App } from 'antd'
import { useEffect, useRef } from 'react'
import { fetchPull, type CharacterOut } from '../../api/client'
import type { Dab, Painted, Painting } from '../../api/paint'
import { shownValues, useBench, type BrushTool } from '../../state/bench'
import { useEdit } from '../../state/edits'
import type { Spot, StageEngine } from '../engine'
import { StrokePump } from './strokePump'

const SPACING = 0.25 // of the radius between two dabs
const SIZE_BY_PIXEL = 0.15 // mm
const STRENGTH_BY_PIXEL = 0.4 // %

/** Held keys lend another tool: Ctrl takes away instead of adding, Shift smooths. */
const toolOf = (e: PointerEvent, tool: BrushTool): BrushTool => (e.shiftKey ? 'smooth' : e.ctrlKey || e.metaKey ? (tool === 'take' ? 'add' : 'take') : tool)

function paintingOf(part: string): Painting {
  const s = useBench.getState()
  const { radius, strength, value, falloff, through, most, onlySelection } = s.brush
  const only = onlySelection && s.selection?.part === part ? s.selection.vertices : null
  return {
    part,
    bone: s.weightBone,
    brush: { radius: radius / 10, strength: strength / 100, value: value / 100, falloff, through, most: most < 100 ? most / 100 : null },
    values: shownValues(s),
    locked: s.locked,
    only,
    mirror: s.mirror,
    keep_total: s.keepTotal,
  }
}

const dabOf = (spot: Spot, tool: BrushTool, eye: [number, number, number] | null, e: PointerEvent): Dab => ({
  vertex: spot.vertex,
  place: spot.point,
  tool,
  eye,
  pressure: e.pointerType === 'pen' && e.pressure > 0 ? e.pressure : 1,
})

/** Painting on the posed head: pressing on a part paints it, pressing beside it turns the camera as always. */
export function useBrush(engine: StageEngine | null, character: CharacterOut, on: boolean) {
  const { message } = App.useApp()
  const edit = useEdit(character)
  const latest = useRef({ character, edit, message })
  useEffect(() => {
    latest.current = { character, edit, message }
  })
  useEffect(() => {
    if (!engine || !on) return
    const canvas = engine.canvas
    const stage = canvas.parentElement!
    const set = useBench.getState().set
    let stroke: StrokePump | null = null
    let last: Spot | null = null
    let asked: number[] = []
    const times: number[] = []
    let sizing: { x: number; key: string; from: number } | null = null
    const keys = new Set<string>()
    let at: { x: number; y: number } | null = null

    const place = (e: PointerEvent) => {
      const box = canvas.getBoundingClientRect()
      return { x: e.clientX - box.left, y: e.clientY - box.top }
    }
    const ring = () => {
      const spot = at && engine.spot(at.x, at.y)
      engine.showRing(spot ? { point: spot.point, radius: useBench.getState().brush.radius / 10 } : null)
    }
    const shown = (part: string) => (painted: Painted) => {
      engine.paint(part, painted)
      const now = performance.now()
      times.push(...asked.map((t) => now - t))
      asked = []
      const sorted = [...times].sort((a, b) => a - b)
      canvas.dataset.paintMedian = String(Math.round(sorted[sorted.length >> 1] ?? 0))
      canvas.dataset.paintSlow = String(Math.round(sorted[Math.floor(sorted.length * 0.95)] ?? 0))
    }
    const dab = (spot: Spot, e: PointerEvent) => {
      const { brush } = useBench.getState()
      asked.push(performance.now())
      stroke?.add(dabOf(spot, toolOf(e, brush.tool), brush.through ? null : engine.eye(), e))
      last = spot
    }
    const down = (e: PointerEvent) => {
      if (e.button !== 0 || e.target !== canvas || latest.current.edit.isPending) return
      at = place(e)
      const key = ['KeyR', 'KeyT'].find((k) => keys.has(k))
      if (key) {
        const { brush } = useBench.getState()
        sizing = { x: at.x, key, from: key === 'KeyR' ? brush.radius : brush.strength }
      } else {
        const spot = engine.spot(at.x, at.y)
        if (!spot) return
        stroke = new StrokePump(latest.current.character.id, latest.current.character.revision.number, paintingOf(spot.part), shown(spot.part))
        canvas.dataset.painting = 'true'
        dab(spot, e)
      }
      canvas.setPointerCapture(e.pointerId)
      e.stopImmediatePropagation()
    }
    const move = (e: PointerEvent) => {
      at = place(e)
      if (sizing) {
        const by = at.x - sizing.x
        const { brush } = useBench.getState()
        if (sizing.key === 'KeyR') set({ brush: { ...brush, radius: Math.min(200, Math.max(1, sizing.from + by * SIZE_BY_PIXEL)) } })
        else set({ brush: { ...brush, strength: Math.min(100, Math.max(1, sizing.from + by * STRENGTH_BY_PIXEL)) } })
        e.stopImmediatePropagation()
        return
      }
      ring()
      if (!stroke) return
      e.stopImmediatePropagation()
      const spot = engine.spot(at.x, at.y)
      if (spot?.part !== stroke.painting.part || !last) return
      const far = Math.hypot(...spot.point.map((c, k) => c - last!.point[k]!))
      if (far >= (stroke.painting.brush.radius as number) * SPACING) dab(spot, e)
    }
    const up = (e: PointerEvent) => {
      if (sizing) {
        sizing = null
        e.stopImmediatePropagation()
      }
      if (!stroke) return
      e.stopImmediatePropagation()
      const done = stroke
      stroke = last = null
      const over = () => {
        delete canvas.dataset.painting
        set({ strokes: useBench.getState().strokes + 1 })
      }
      done
        .finished()
        .then(() => latest.current.edit.mutateAsync({ edit: 'weights.paint', params: { painting: done.painting, dabs: done.dabs } }).catch(() => undefined))
        .catch((error: Error) => void latest.current.message.error(error.message))
        .finally(over)
    }
    const pressed = (e: KeyboardEvent) => {
      keys.add(e.code)
      if (e.code === 'KeyU' && at && !e.ctrlKey) void takeBone(engine, latest.current.character, at.x, at.y)
    }
    const released = (e: KeyboardEvent) => keys.delete(e.code)
    const left = () => engine.showRing(null)
    stage.addEventListener('pointerdown', down, { capture: true })
    stage.addEventListener('pointermove', move, { capture: true })
    stage.addEventListener('pointerup', up, { capture: true })
    stage.addEventListener('pointerleave', left)
    window.addEventListener('keydown', pressed)
    window.addEventListener('keyup', released)
    const unwatch = useBench.subscribe((s, before) => s.brush !== before.brush && ring())
    return () => {
      unwatch()
      engine.showRing(null)
      stage.removeEventListener('pointerdown', down, { capture: true })
      stage.removeEventListener('pointermove', move, { capture: true })
      stage.removeEventListener('pointerup', up, { capture: true })
      stage.removeEventListener('pointerleave', left)
      window.removeEventListener('keydown', pressed)
      window.removeEventListener('keyup', released)
    }
  }, [engine, on])
}

/** Chooses the bone that pulls most at the place under the pointer; where none pulls, the one that carries most. */
async function takeBone(engine: StageEngine, character: CharacterOut, x: number, y: number) {
  const spot = engine.spot(x, y)
  if (!spot) return
  const s = useBench.getState()
  const found = await fetchPull(character.id, character.revision.number, spot.part, [spot.vertex], shownValues(s)).catch(() => null)
  const bones = (found?.pull ?? []).filter((r) => r.kind === 'bone' && character.bones.some((b) => b.name === r.name))
  const first = bones.sort((a, b) => b.millimetres - a.millimetres || (b.weight ?? 0) - (a.weight ?? 0))[0]
  if (first) s.set({ weightBone: first.name })
}
