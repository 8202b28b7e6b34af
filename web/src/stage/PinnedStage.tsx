import { App } from 'antd'
import { useEffect, useRef, useState } from 'react'
import type { CharacterOut } from '../api/client'
import { fetchMeshes } from '../api/frames'
import { fetchShading } from '../api/shading'
import { partShown, shownValues, useBench } from '../state/bench'
import { StageEngine } from './engine'
import { ofGlass } from './veil'
import { FramePump } from './framePump'

/** A revision to compare with, and what it and what is on the stage are called. */
export interface Beside {
  number: number
  left: string
  right: string
}

interface Props {
  main: StageEngine
  character: CharacterOut
  pin: Beside
  smooth: boolean
}

/** The pinned revision in the same pose and from the same side, left of a handle that is dragged; right of it what is now. */
export function PinnedStage({ main, character, pin, smooth }: Props) {
  const { message } = App.useApp()
  const canvas = useRef<HTMLCanvasElement>(null)
  const frame = useRef<HTMLDivElement>(null)
  const pump = useRef<FramePump | null>(null)
  const [engine, setEngine] = useState<StageEngine | null>(null)
  const [drawn, setDrawn] = useState('')
  const values = useBench(shownValues)
  const strength = useBench((s) => s.strength)
  const display = useBench((s) => s.display)
  const weightBone = useBench((s) => s.weightBone)
  const hidden = useBench((s) => s.hidden)
  const isolated = useBench((s) => s.isolated)
  const alone = useBench((s) => s.alone)
  const split = useBench((s) => s.split)
  const set = useBench((s) => s.set)
  const { id } = character

  useEffect(() => {
    if (!canvas.current) return
    const made = new StageEngine(canvas.current)
    const follow = () => made.lookAs(main)
    const watch = new ResizeObserver(() => {
      made.resize()
      follow()
    })
    watch.observe(canvas.current)
    const refused = (error: Error) => void message.error(`The pinned revision cannot be shown like this: ${error.message}`)
    let unwatch = () => {}
    fetchMeshes(id, pin.number)
      .then((meshes) => {
        made.load(meshes)
        void fetchShading(id, pin.number).then((shadings) => made.shade(shadings), refused)
        pump.current = new FramePump(id, made, Promise.resolve(), (request) => setDrawn(JSON.stringify(request.values)), refused)
        setEngine(made)
        unwatch = main.watch(follow)
      })
      .catch(refused)
    return () => {
      unwatch()
      watch.disconnect()
      pump.current?.stop()
      made.dispose()
    }
  }, [main, id, pin.number, message])

  useEffect(() => {
    if (engine) pump.current?.ask({ revision: pin.number, values, overdrive: strength > 1, smooth, weights_of: display.weights ? weightBone : null })
  }, [engine, pin.number, values, strength, smooth, display.weights, weightBone])

  useEffect(() => {
    engine?.show({
      ...display,
      bones: false,
      wires: () => display.wires,
      glass: (part) => display.glass && ofGlass(part.kind),
      colours: display.weights ? 'weights' : 'nothing',
      visible: partShown({ alone, isolated, hidden }),
    })
  }, [engine, display, hidden, isolated, alone])

  const drag = (e: React.PointerEvent<HTMLButtonElement>) => {
    const box = frame.current!.getBoundingClientRect()
    if (e.buttons) set({ split: Math.min(0.97, Math.max(0.03, (e.clientX - box.left) / box.width)) })
  }
  const nudge = (e: React.KeyboardEvent) => {
    const by = { ArrowLeft: -0.02, ArrowRight: 0.02 }[e.key]
    if (by) set({ split: Math.min(0.97, Math.max(0.03, split + by)) })
  }
  const at = `${split * 100}%`
  return (
    <div className="pinned-stage" ref={frame} data-drawn={drawn}>
      <canvas className="stage-canvas" ref={canvas} aria-label={`Revision ${pin.number}`} style={{ clipPath: `inset(0 ${100 - split * 100}% 0 0)` }} />
      <span className="split-label num" style={{ right: `calc(${100 - split * 100}% + 14px)` }}>
        {pin.left}
      </span>
      <span className="split-label num" style={{ left: `calc(${at} + 14px)` }}>
        {pin.right}
      </span>
      <button
        className="split"
        style={{ left: at }}
        role="slider"
        aria-label="Compare handle"
        aria-valuenow={Math.round(split * 100)}
        aria-valuemin={3}
        aria-valuemax={97}
        onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
        onPointerMove={drag}
        onKeyDown={nudge}
      />
    </div>
  )
}
