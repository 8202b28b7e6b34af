import { App } from 'antd'
import { useEffect, useRef } from 'react'
import { fetchPull, type CharacterOut, type Step } from '../../api/client'
import { isSculpting, type Dab, type PaintDab, type Painting, type SculptDab } from '../../api/paint'
import { shownValues, useBench } from '../../state/bench'
import { useHead, useStroke } from '../../state/edits'
import type { StageEngine } from '../engine'
import { BrushPointer, type StrokeHost } from './brushPointer'

/** Painting on the posed head while `on`. */
export function useBrush(engine: StageEngine | null, character: CharacterOut, on: boolean) {
  const { message } = App.useApp()
  const stroke = useStroke(character)
  const head = useHead(character)
  const host = useRef<StrokeHost & { character: CharacterOut }>(null!)
  useEffect(() => {
    host.current = {
      character,
      revision: head,
      // maps of lids and reliefs lie on the skin
      paintable: (part) => useBench.getState().sculpting !== null || !useBench.getState().shownMap || character.parts.some((p) => p.name === part && p.kind === 'skin'),
      store: (painting, dabs, on) => stroke.mutateAsync({ step: strokeOf(painting, dabs), on }),
      refused: (error) => void message.error(error.message),
    }
  })
  useEffect(() => {
    if (!engine || !on) return
    const pointer = new BrushPointer(engine, () => host.current)
    const takeBone = (e: KeyboardEvent) => {
      if (e.code === 'KeyU' && pointer.at && !e.ctrlKey && !useBench.getState().shownMap) void chooseBone(engine, host.current.character, pointer.at)
    }
    const ends = new AbortController()
    const { signal } = ends
    const first = { signal, capture: true } // before the camera's own listeners, which sit on the canvas
    const stage = engine.canvas.parentElement!
    stage.addEventListener('pointerdown', pointer.down, first)
    stage.addEventListener('pointermove', pointer.move, first)
    stage.addEventListener('pointerup', pointer.up, first)
    stage.addEventListener('pointerleave', pointer.left, { signal })
    window.addEventListener('keydown', pointer.pressed, { signal })
    window.addEventListener('keydown', takeBone, { signal })
    window.addEventListener('keyup', pointer.released, { signal })
    const unwatch = useBench.subscribe((s, before) => s.brush !== before.brush && pointer.ring())
    return () => {
      ends.abort()
      unwatch()
      pointer.left()
    }
  }, [engine, on])
}

/** The edit that stores a stroke. */
function strokeOf(painting: Painting, every: Dab[]): Step {
  const dabs = every as PaintDab[]
  if (isSculpting(painting)) return { edit: 'shape.sculpt', params: { sculpting: painting, dabs: every as SculptDab[] } }
  if ('map' in painting) return { edit: 'lids.paint_map', params: { painting, dabs } }
  if ('relief' in painting) return { edit: 'relief.paint', params: { painting, dabs } }
  return { edit: 'weights.paint', params: { painting, dabs } }
}

/** Chooses the bone that pulls most at the place under the pointer; where none pulls, the one that carries most. */
async function chooseBone(engine: StageEngine, character: CharacterOut, { x, y }: { x: number; y: number }) {
  const spot = engine.spot(x, y)
  if (!spot) return
  const s = useBench.getState()
  const found = await fetchPull(character.id, character.revision.number, spot.part, [spot.vertex], shownValues(s)).catch(() => null)
  const bones = (found?.pull ?? []).filter((r) => r.kind === 'bone' && character.bones.some((b) => b.name === r.name))
  const first = bones.sort((a, b) => b.millimetres - a.millimetres || (b.weight ?? 0) - (a.weight ?? 0))[0]
  if (first) s.set({ weightBone: first.name })
}
