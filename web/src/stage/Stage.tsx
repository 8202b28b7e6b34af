import { App } from 'antd'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { fetchMeshes } from '../api/frames'
import type { CharacterOut } from '../api/client'
import { shownValues, useBench } from '../state/bench'
import { StageEngine, type Hit } from './engine'
import { FramePump } from './framePump'
import { Callout } from './Callout'
import { DisplayChips, ViewChips } from './Chips'
import { ControlsCard } from './ControlsCard'
import { PartsCard } from './PartsCard'
import { takeThumbnails } from './thumbnails'
import { viewOf } from './views'

const CLICK = 4 // px the pointer may move between down and up to count as a click
const CLOSE = 22 // cm from which a place is looked at
const CONTROLS_WIDTH = 130 // px of the stage that the controls card takes from the head

/** The 3D view and what floats over it. */
export function Stage({ character }: { character: CharacterOut }) {
  const { message } = App.useApp()
  const canvas = useRef<HTMLCanvasElement>(null)
  const [engine, setEngine] = useState<StageEngine | null>(null)
  const [loaded, setLoaded] = useState<number | null>(null)
  const pump = useRef<FramePump | null>(null)
  const weighed = useRef('')
  const [hover, setHover] = useState<Hit | null>(null)
  const [taken, setTaken] = useState(0)
  const [shown, setShown] = useState({ frames: 0, pose: '' })
  const display = useBench((s) => s.display)
  const values = useBench(shownValues)
  const strength = useBench((s) => s.strength)
  const weightBone = useBench((s) => s.weightBone)
  const camera = useBench((s) => s.camera)
  const hidden = useBench((s) => s.hidden)
  const isolated = useBench((s) => s.isolated)
  const set = useBench((s) => s.set)
  const { id } = character
  const revision = character.revision.number

  const onRefused = useCallback((error: Error) => void message.error(error.message), [message])

  useEffect(() => {
    if (!canvas.current) return
    const made = new StageEngine(canvas.current)
    const watch = new ResizeObserver(() => made.resize())
    watch.observe(canvas.current)
    setEngine(made)
    return () => {
      watch.disconnect()
      made.dispose()
      setEngine(null)
    }
  }, [])

  useEffect(() => {
    if (!engine) return
    let gone = false
    // meshes change with the parts section only; none of today's edits touches it
    fetchMeshes(id, useBench.getState().character?.revision.number ?? 1)
      .then((meshes) => {
        if (gone) return
        engine.load(meshes)
        weighed.current = ''
        setLoaded(id)
      })
      .catch(onRefused)
    const made = new FramePump(
      id,
      engine,
      (request) => {
        if (request.weights_of) weighed.current = `${request.weights_of} ${request.revision} ${request.smooth}`
        setShown((s) => ({ frames: s.frames + 1, pose: JSON.stringify(Object.fromEntries(Object.entries(request.values).sort())) }))
      },
      onRefused,
    )
    pump.current = made
    return () => {
      gone = true
      made.stop()
    }
  }, [engine, id, onRefused])

  useEffect(() => {
    if (!engine || loaded !== id) return
    const key = `${weightBone} ${revision} ${display.smooth}`
    const weights_of = display.weights && weighed.current !== key ? weightBone : null
    pump.current?.ask({ revision, values, overdrive: strength > 1, smooth: display.smooth, weights_of })
  }, [engine, loaded, id, revision, values, strength, display.smooth, display.weights, weightBone, taken])

  useEffect(() => {
    engine?.show({ ...display, visible: (part) => (isolated ? part === isolated : !hidden.has(part)) })
  }, [engine, loaded, display, hidden, isolated])

  const controlsOpen = useBench((s) => s.controlsOpen)
  useEffect(() => engine?.cover(controlsOpen ? CONTROLS_WIDTH : 0), [engine, controlsOpen])

  const firstView = useRef(true)
  useEffect(() => {
    if (!engine || loaded !== id) return
    if (camera.view !== null || firstView.current) engine.fly(viewOf(camera.view ?? 'three-quarter', character), firstView.current)
    if (camera.view === null) engine.frame(camera.point, CLOSE)
    firstView.current = false
    // the landmarks move only with an edit of them, not with every revision
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [engine, loaded, id, camera])

  useEffect(() => {
    if (!engine || loaded !== id) return
    const state = { gone: false }
    void takeThumbnails(engine, character, state, () => setTaken((n) => n + 1))
    return () => {
      state.gone = true
    }
    // taken again after each edit, because an edit may change every pose
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [engine, loaded, id, revision])

  const down = useRef<{ x: number; y: number } | null>(null)
  const place = (e: React.PointerEvent) => {
    const box = e.currentTarget.getBoundingClientRect()
    return { x: e.clientX - box.left, y: e.clientY - box.top }
  }
  const hovering = useRef(0)
  const pointer = {
    onPointerDown: (e: React.PointerEvent) => (down.current = place(e)),
    onPointerUp: (e: React.PointerEvent) => {
      const at = place(e)
      if (!engine || !down.current || Math.hypot(at.x - down.current.x, at.y - down.current.y) > CLICK) return
      const hit = engine.pick(at.x, at.y)
      set({ pick: hit, ...(hit ? { selectedPart: hit.part } : {}) })
    },
    onPointerMove: (e: React.PointerEvent) => {
      if (!engine || e.buttons || hovering.current) return
      const at = place(e)
      hovering.current = requestAnimationFrame(() => {
        hovering.current = 0
        setHover(engine.pick(at.x, at.y))
      })
    },
    onPointerLeave: () => setHover(null),
  }
  const total = useMemo(() => character.parts.find((p) => p.name === hover?.part), [character, hover])

  return (
    <>
      <canvas
        ref={canvas}
        className="stage-canvas"
        tabIndex={0}
        aria-label="Stage"
        data-frames={shown.frames}
        data-values={shown.pose}
        data-ready={loaded === id && shown.frames > 0}
        {...pointer}
      />
      <ViewChips />
      <DisplayChips character={character} />
      <Callout engine={engine} />
      <PartsCard character={character} />
      <ControlsCard character={character} />
      <div className="card stage-note quiet" data-testid="hover">
        {hover ? (
          <>
            {hover.part} <span className="num">vertex {hover.vertex}</span> · {total?.carrier}
          </>
        ) : display.smooth ? (
          'Smooth view: the subdivided surface'
        ) : (
          'True mesh'
        )}
      </div>
    </>
  )
}
