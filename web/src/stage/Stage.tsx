import { App } from 'antd'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { meshesOf } from '../api/ahead'
import { fetchShading } from '../api/shading'
import type { CharacterOut } from '../api/client'
import { askedScale, partShown, shownArrived, shownTint, shownValues, useBench } from '../state/bench'
import type { Trial, Wish } from '../state/work/view'
import { isLidMap, type ShownMap } from '../state/work/weights'
import { useOpenCheck } from '../state/checkin'
import { knownTo } from '../state/known'
import { useLandmarks } from '../state/landmarks'
import { StageEngine } from './engine'
import { FramePump } from './framePump'
import { useBrush } from './brush/useBrush'
import { Callout } from './Callout'
import { headBox } from './headBox'
import { MarkLabels } from './MarkLabels'
import { PinnedStage, type Beside } from './PinnedStage'
import { stageQuality } from './quality'
import { StageBar } from './StageBar'
import { StageFoot } from './StageFoot'
import { StageTools } from './StageTools'
import { showKeptThumbnails, takeShapePictures, takeThumbnails } from './thumbnails'
import { useCapsules } from './useCapsules'
import { useMarks } from './useMarks'
import { useMixPicture } from './useMixPicture'
import { usePointer } from './usePointer'
import { ofGlass, veils } from './veil'
import { viewOf } from './views'

const CLOSE = 22 // cm from which a place is looked at
const UNTIL_PICTURES = { fine: 1500, plain: 5000 } // ms after an edit until the poses are pictured again
const TRUE_MESH = new Set(['checkin', 'landmarks'])

interface Props {
  character: CharacterOut
  /** Check-in and Landmarks draw the true mesh as it was delivered, and mark on it what they speak of. */
  station: string
}

const mapKey = (of: ShownMap) => (isLidMap(of) ? `${of.map} of eye ${of.side}` : 'shape' in of ? `${of.shape} below ${of.below}` : `region of ${of.relief}`)

const poseKey = (values: Record<string, number>) => JSON.stringify(Object.fromEntries(Object.entries(values).sort()))

/** Values with a little movement on top; what the controls ask for already stays below the limits. */
function nudged(values: Record<string, number>, nudge: Record<string, number>): Record<string, number> {
  const more = Object.entries(nudge)
  return more.length ? { ...values, ...Object.fromEntries(more.map(([name, by]) => [name, (values[name] ?? 0) + by])) } : values
}

const TURN = 10 // degrees a key turns the stage
const NEARER = 0.88
const TURNS: Record<string, [number, number]> = { ArrowLeft: [-TURN, 0], ArrowRight: [TURN, 0], ArrowUp: [0, TURN], ArrowDown: [0, -TURN] }

/** The stage turned by arrow keys, and brought nearer or farther by plus and minus. */
function turnByKey(engine: StageEngine, e: React.KeyboardEvent) {
  const turn = TURNS[e.key]
  if (turn) engine.turn(...turn)
  else if (e.key === '+' || e.key === '=') engine.near(NEARER)
  else if (e.key === '-') engine.near(1 / NEARER)
  else return
  engine.onTaken()
  e.preventDefault()
}

/** Is a landmark picked that lies inside the head? */
function useInnerMark(character: CharacterOut, station: string): boolean {
  const placing = useBench((s) => station === 'landmarks' && s.placing === 'landmarks')
  const picked = useBench((s) => s.mark)
  const { data } = useLandmarks(character, placing)
  return placing && data?.marks.find((m) => m.name === picked)?.lies === 'inside'
}

/** The revision that is drawn left of the compare handle, and what the two sides are called. */
function besideOf(comparing: boolean, trial: Trial | null, arrived: string | null, pin: { number: number } | null, revision: number): Beside | null {
  if (!comparing) return null
  if (arrived) return { number: revision, left: 'made here', right: 'what arrives' }
  if (trial?.draft) return { number: revision, left: 'now', right: 'as tried' }
  return pin && { number: pin.number, left: `rev ${pin.number}`, right: 'now' }
}

/** The 3D view and what floats over it. */
export function Stage({ character, station }: Props) {
  const { message } = App.useApp()
  const canvas = useRef<HTMLCanvasElement>(null)
  const [engine, setEngine] = useState<StageEngine | null>(null)
  const [loaded, setLoaded] = useState('')
  const [lit, setLit] = useState('') // the meshes whose light has come, or will not come
  const pump = useRef<FramePump | null>(null)
  const weighed = useRef('')
  const [cut, setCut] = useState(false)
  const [shown, setShown] = useState({ frames: 0, pose: '' })
  const display = useBench((s) => s.display)
  const posed = useBench(shownValues)
  const nudge = useBench((s) => s.nudge)
  const bone = useBench((s) => s.bone)
  const boneFilter = useBench((s) => s.boneFilter)
  const values = useMemo(() => knownTo(character, nudged(posed, nudge)), [character, posed, nudge])
  const strength = useBench((s) => s.strength)
  const weightBone = useBench((s) => s.weightBone)
  const camera = useBench((s) => s.camera)
  const hidden = useBench((s) => s.hidden)
  const isolated = useBench((s) => s.isolated)
  const alone = useBench((s) => s.alone)
  const flyTo = useBench((s) => s.flyTo)
  const openCheck = useOpenCheck(character)
  const spot = useBench((s) => s.spot)
  const checking = TRUE_MESH.has(station)
  const inside = useInnerMark(character, station)
  const check = station === 'checkin' ? openCheck : checking ? spot : null
  const preview = useBench((s) => s.preview)
  const { id, meshes: meshesHash } = character
  const revision = character.revision.number
  const shownMap = useBench((s) => s.shownMap)
  const sculpting = useBench((s) => s.sculpting !== null)
  const painting = useBench((s) => s.painting) && (station === 'weights' || shownMap !== null || sculpting)
  const tint = useBench(shownTint)
  const tintUpTo = useBench(askedScale)
  const trial = useBench((s) => s.trial)
  const draft = useBench((s) => (s.holdBefore ? null : (s.trial?.draft ?? null)))
  const pin = useBench((s) => s.pin)
  const arrived = useBench((s) => shownArrived(s, revision))
  const without = useBench((s) => (arrived ? s.arrived?.without : undefined))
  const beside = besideOf(useBench((s) => s.comparing), trial, arrived, pin, revision)
  const strokes = useBench((s) => s.strokes)
  // what is painted is the true mesh
  const smooth = display.smooth && !checking && !painting
  // meshes change with an edit of the parts, and only then
  const meshes = `${id} ${meshesHash}`
  const there = loaded === meshes

  const begun = useBench((s) => s.stageReady)
  const onRefused = useCallback(
    (error: Error) => {
      void message.error(error.message)
      useBench.setState({ stageReady: true })
    },
    [message],
  )

  useEffect(() => {
    if (!canvas.current) return
    const made = new StageEngine(canvas.current)
    made.onTaken = () => useBench.setState({ turned: true })
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
    weighed.current = ''
    const loading = meshesOf(id, meshesHash, latest.current).then((found) => {
      if (gone) return
      engine.load(found)
      setShown((s) => ({ ...s, frames: 0 }))
      setLoaded(meshes)
    })
    const made = new FramePump(
      id,
      engine,
      loading,
      (request, { off = null }) => {
        const map = request.map_of ?? request.shape_of ?? (request.region_of ? { relief: request.region_of } : null)
        if (request.weights_of || map) weighed.current = `${map ? mapKey(map) : request.weights_of} ${request.revision} ${request.smooth} ${useBench.getState().strokes}`
        if (request.tint) useBench.setState({ tintMost: engine.tinting.most, arrivedOff: off })
        setShown((s) => ({ frames: s.frames + 1, pose: poseKey(request.values) }))
      },
      onRefused,
    )
    pump.current = made
    return () => {
      gone = true
      made.stop()
    }
  }, [engine, id, meshesHash, meshes, onRefused])

  useEffect(() => {
    if (!engine) return
    const key = `${shownMap ? mapKey(shownMap) : weightBone} ${revision} ${smooth} ${strokes}`
    if (tint) weighed.current = ''
    const due = !tint && weighed.current !== key
    const weights_of = due && !shownMap && display.weights ? weightBone : null
    const map_of = due && shownMap && isLidMap(shownMap) ? shownMap : null
    const region_of = due && shownMap && 'relief' in shownMap ? shownMap.relief : null
    const shape_of = due && shownMap && 'shape' in shownMap ? shownMap : null
    pump.current?.ask({ revision, values, overdrive: strength > 1, smooth, weights_of, map_of, region_of, shape_of, tint, draft, arrived, pinned: tint === 'pin' ? (pin?.number ?? null) : null, handles: bone !== null || boneFilter.axes })
  }, [engine, meshes, revision, values, strength, smooth, display.weights, weightBone, shownMap, bone, boneFilter.axes, strokes, tint, pin, draft, arrived])

  useEffect(() => {
    const spoken = new Set([...(check?.places ?? []), ...(trial?.moved ?? [])].map((p) => p.part))
    const wired = new Set(check?.places?.map((p) => p.part))
    const kinds = character.parts.filter((p) => spoken.has(p.name)).map((p) => p.kind)
    engine?.show({
      ...display,
      colours: tint ? 'difference' : display.weights || shownMap ? 'weights' : 'nothing',
      wires: (part) => display.wires || wired.has(part.name),
      glass: (part) => ((display.glass || inside) && ofGlass(part.kind)) || (!spoken.has(part.name) && (cut || veils(part.kind, kinds))),
      visible: partShown({ alone, isolated, hidden, without }),
    })
  }, [engine, loaded, display, hidden, isolated, alone, check, trial, cut, inside, tint, shownMap, without, character.parts])

  useEffect(() => {
    engine?.tintUpTo(tintUpTo)
    if (engine && shownTint(useBench.getState())) useBench.setState({ tintMost: engine.tinting.most })
  }, [engine, tintUpTo])

  useEffect(() => engine?.showBones(character.bones, boneFilter, bone), [engine, loaded, character.bones, boneFilter, bone])

  const ready = there && shown.frames > 0
  useEffect(() => {
    // once it is drawn: what stands round the stage would come before it
    const drawn = ready && requestAnimationFrame(() => setTimeout(() => useBench.setState({ stageReady: true })))
    return () => void (drawn && cancelAnimationFrame(drawn))
  }, [ready])
  useEffect(() => {
    if (!engine || !ready || !begun) return
    let gone = false
    // after the first picture: it must not wait for the light
    fetchShading(id, latest.current)
      .then((shadings) => !gone && engine.shade(shadings))
      .catch(onRefused)
      .finally(() => !gone && setLit(meshes))
    return () => {
      gone = true
    }
  }, [engine, ready, begun, id, meshes, onRefused])
  useEffect(
    () =>
      engine?.watch(() => {
        engine.canvas.dataset.head = JSON.stringify(headBox(engine, character))
      }),
    [engine, character],
  )
  useCapsules(engine, ready, character)
  useMarks(engine, ready, character, check, preview, station)

  const firstView = useRef(true)
  useEffect(() => {
    if (!engine || !loaded) return
    if (camera.view !== null || firstView.current) engine.fly(viewOf(camera.view ?? 'three-quarter', character), firstView.current)
    if ('point' in camera) engine.frame(camera.point, camera.close ?? CLOSE)
    firstView.current = false
    // not with every revision: the camera stays where it was put
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [engine, loaded !== '', id, camera])

  const followed = useRef<Wish | null>(null)
  const inPose = shown.pose === poseKey(values) // before that a place is not where it will be
  useEffect(() => {
    if (!engine || !ready || !inPose || followed.current === camera) return
    followed.current = camera
    setCut('places' in camera && engine.frameVertices(camera.places, viewOf('three-quarter', character), camera.margin))
    // not with every revision: the camera stays where it was put
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [engine, ready, inPose, camera])

  useMixPicture(engine, ready && inPose, character)

  useEffect(() => {
    const state = { gone: false }
    void showKeptThumbnails(character, state)
    return () => {
      state.gone = true
    }
  }, [character])

  useEffect(() => {
    if (!engine || !there || lit !== meshes) return
    const state = { gone: false }
    // old pictures may stand for a while: whoever works on wants the machine for the stage
    const wait = Object.keys(useBench.getState().thumbnails).length ? UNTIL_PICTURES[stageQuality()] : 0
    const take = async () => {
      await takeThumbnails(engine, character, state)
      if (station === 'shapes' && !state.gone) await takeShapePictures(engine, character, state)
    }
    const asked = setTimeout(() => void take(), wait)
    return () => {
      state.gone = true
      clearTimeout(asked)
    }
    // taken again after each edit, because an edit may change every pose
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [engine, there, lit === meshes, revision, station === 'shapes'])

  // a head that was cut open is closed again when nothing inside it is spoken of any more
  useEffect(() => {
    if (cut && !check && !trial) flyTo('three-quarter')
  }, [cut, check, trial, flyTo])

  useBrush(engine, character, painting && ready)
  const { hover, handlers } = usePointer(engine, character, station)
  const total = useMemo(() => character.parts.find((p) => p.name === hover?.part), [character, hover])

  const carried = total?.carrier === 'none' ? total.kind : total?.carrier
  const drawn = cut ? 'Cut open: the marks lie inside' : smooth ? 'Smooth view: the subdivided surface' : 'True mesh'
  const under = hover && (
    <>
      {hover.part} <span className="num">vertex {hover.vertex}</span> · {carried}
    </>
  )
  return (
    <div className="stage-wrap">
      <div className="stage-view">
        <canvas
          ref={canvas}
          className="stage-canvas"
          tabIndex={0}
          aria-label="Stage"
          data-frames={shown.frames}
          data-values={shown.pose}
          data-ready={ready}
          onKeyDown={(e) => engine && turnByKey(engine, e)}
          {...handlers}
        />
        {beside && engine && <PinnedStage key={beside.number} main={engine} character={character} pin={beside} smooth={smooth} />}
        {begun && (
          <>
            <MarkLabels engine={engine} check={check ?? null} />
            <StageTools engine={engine} character={character} station={station} />
            <Callout engine={engine} character={character} check={check} />
            <StageBar engine={engine} character={character} checking={checking} smoothable={!checking && !painting} />
          </>
        )}
      </div>
      {begun ? <StageFoot engine={engine} character={character} said={under ?? drawn} /> : <div className="stage-foot" />}
    </div>
  )
}
