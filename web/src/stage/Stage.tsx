import { App } from 'antd'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { fetchMeshes } from '../api/frames'
import type { CharacterOut } from '../api/client'
import { shownValues, useBench, type Wish } from '../state/bench'
import { useOpenCheck } from '../state/checkin'
import { StageEngine, type Hit } from './engine'
import { FramePump } from './framePump'
import { Callout } from './Callout'
import { DisplayChips, ViewChips } from './Chips'
import { ControlsCard } from './ControlsCard'
import { MarkLabels } from './MarkLabels'
import { PartsCard } from './PartsCard'
import { takeThumbnails } from './thumbnails'
import { useMarks } from './useMarks'
import { veils } from './veil'
import { viewOf } from './views'

const CLICK = 4 // px the pointer may move between down and up to count as a click
const CLOSE = 22 // cm from which a place is looked at
const CONTROLS_WIDTH = 130 // px of the stage that the controls card takes from the head
const NO_MARKS: never[] = []
const TRUE_MESH = new Set(['checkin', 'landmarks'])

interface Props {
  character: CharacterOut
  /** Check-in and Landmarks draw the true mesh as it was delivered, and mark on it what they speak of. */
  station: string
}

/** The 3D view and what floats over it. */
export function Stage({ character, station }: Props) {
  const { message } = App.useApp()
  const canvas = useRef<HTMLCanvasElement>(null)
  const [engine, setEngine] = useState<StageEngine | null>(null)
  const [loaded, setLoaded] = useState('')
  const pump = useRef<FramePump | null>(null)
  const weighed = useRef('')
  const [hover, setHover] = useState<Hit | null>(null)
  const [taken, setTaken] = useState(0)
  const [cut, setCut] = useState(false)
  const [shown, setShown] = useState({ frames: 0, pose: '' })
  const display = useBench((s) => s.display)
  const values = useBench(shownValues)
  const strength = useBench((s) => s.strength)
  const weightBone = useBench((s) => s.weightBone)
  const camera = useBench((s) => s.camera)
  const hidden = useBench((s) => s.hidden)
  const isolated = useBench((s) => s.isolated)
  const set = useBench((s) => s.set)
  const flyTo = useBench((s) => s.flyTo)
  const openCheck = useOpenCheck(character)
  const spot = useBench((s) => s.spot)
  const checking = TRUE_MESH.has(station)
  const check = station === 'checkin' ? openCheck : checking ? spot : null
  const preview = useBench((s) => s.preview)
  const { id, meshes: meshesHash } = character
  const revision = character.revision.number
  const smooth = display.smooth && !checking
  // meshes change with an edit of the parts, and only then
  const meshes = `${id} ${meshesHash}`
  const there = loaded === meshes

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

  const latest = useRef(revision)
  useEffect(() => {
    latest.current = revision
  }, [revision])
  useEffect(() => {
    if (!engine) return
    let gone = false
    fetchMeshes(id, latest.current)
      .then((found) => {
        if (gone) return
        engine.load(found)
        weighed.current = ''
        setShown((s) => ({ ...s, frames: 0 }))
        setLoaded(meshes)
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
  }, [engine, id, meshes, onRefused])

  useEffect(() => {
    if (!engine || !there) return
    const key = `${weightBone} ${revision} ${smooth}`
    const weights_of = display.weights && weighed.current !== key ? weightBone : null
    pump.current?.ask({ revision, values, overdrive: strength > 1, smooth, weights_of })
  }, [engine, there, revision, values, strength, smooth, display.weights, weightBone, taken])

  useEffect(() => {
    const spoken = new Set(check?.places?.map((p) => p.part))
    const kinds = character.parts.filter((p) => spoken.has(p.name)).map((p) => p.kind)
    engine?.show({
      ...display,
      wires: (part) => display.wires || spoken.has(part.name),
      seeThrough: (part) => (display.seeThrough && (part.kind === 'skin' || part.kind === 'hair')) || (!spoken.has(part.name) && (cut || veils(part.kind, kinds))),
      visible: (part) => (isolated ? part === isolated : !hidden.has(part)),
    })
  }, [engine, loaded, display, hidden, isolated, check, cut, character.parts])

  const controlsOpen = useBench((s) => s.controlsOpen) && character.controls.length > 0 && !checking
  useEffect(() => engine?.cover(controlsOpen ? CONTROLS_WIDTH : 0), [engine, controlsOpen])

  const ready = there && shown.frames > 0
  useMarks(engine, ready, character, check, preview)

  const firstView = useRef(true)
  useEffect(() => {
    if (!engine || !loaded) return
    if (camera.view !== null || firstView.current) engine.fly(viewOf(camera.view ?? 'three-quarter', character), firstView.current)
    if ('point' in camera) engine.frame(camera.point, CLOSE)
    firstView.current = false
    // not with every revision: the camera stays where it was put
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [engine, loaded !== '', id, camera])

  const followed = useRef<Wish | null>(null)
  useEffect(() => {
    if (!engine || !ready || followed.current === camera) return
    followed.current = camera
    setCut('places' in camera && engine.frameVertices(camera.places, viewOf('three-quarter', character)))
    // not with every revision: the camera stays where it was put
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [engine, ready, camera])

  useEffect(() => {
    if (!engine || !there) return
    const state = { gone: false }
    void takeThumbnails(engine, character, state, () => setTaken((n) => n + 1))
    return () => {
      state.gone = true
    }
    // taken again after each edit, because an edit may change every pose
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [engine, there, revision])

  // a head that was cut open is closed again when nothing inside it is spoken of any more
  useEffect(() => {
    if (cut && !check) flyTo('three-quarter')
  }, [cut, check, flyTo])

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
        data-ready={ready}
        {...pointer}
      />
      <ViewChips />
      <DisplayChips character={character} checking={checking} />
      <MarkLabels engine={engine} marks={check?.marks ?? NO_MARKS} />
      <Callout engine={engine} check={check} />
      <PartsCard character={character} />
      {!checking && <ControlsCard character={character} />}
      <div className="card stage-note quiet" data-testid="hover">
        {hover ? (
          <>
            {hover.part} <span className="num">vertex {hover.vertex}</span> · {total?.carrier === 'none' ? total.kind : total?.carrier}
          </>
        ) : cut ? (
          'Cut open: the marks lie inside'
        ) : smooth ? (
          'Smooth view: the subdivided surface'
        ) : (
          'True mesh'
        )}
      </div>
    </>
  )
}
