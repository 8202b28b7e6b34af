import { useState } from 'react'
import type { CurveKey, EyeLids, GazeFollow } from '../../api/client'
import { CurvePicture } from '../../ui/curve/CurvePicture'
import { CurveFields, type Spoken } from '../../ui/curve/CurveFields'
import { planeOf } from '../../ui/curve/plane'
import { pathOf } from '../../ui/drawing'

const SIZE = { width: 288, height: 132 }
const EDGE = 14
const FARTHEST = 40 // degrees of gaze

export type LidName = 'upper' | 'lower'
type CurveName = keyof GazeFollow

interface Described {
  name: CurveName
  label: string
  /** What the ends of the picture stand for. */
  ends: [string, string]
  range: [number, number]
  value: Spoken
}

const CLOSING: Spoken = { label: 'Closing', name: 'Closing at the key', unit: '%', times: 100 }
const CURVES: Described[] = [
  { name: 'height', label: 'Up and down', ends: ['down', 'up'], range: [-1, 1], value: CLOSING },
  { name: 'across', label: 'To the sides', ends: ['in', 'out'], range: [-1, 1], value: CLOSING },
  { name: 'slide', label: 'Slide', ends: ['in', 'out'], range: [-10, 10], value: { label: 'Slide', name: 'Slide at the key', unit: '°', times: 1 } },
]
const GAZE: Spoken = { label: 'Key at', name: 'Gaze at the key', unit: '°', times: 1 }

interface Props {
  eye: EyeLids
  lid: LidName
  onLid: (lid: LidName) => void
  /** What is being drawn, before the board has it. */
  drawn: GazeFollow | null
  /** While a key is dragged. */
  onDraw: (follow: GazeFollow) => void
  onSet: (follow: GazeFollow) => void
}

/** How the lids of an eye follow its gaze: what each height and side of it closes, and how far it takes them along. */
export function FollowEditor({ eye, lid, onLid, drawn, onDraw, onSet }: Props) {
  const [shown, setShown] = useState<CurveName>('height')
  const [chosen, setChosen] = useState(0)
  const curve = CURVES.find((c) => c.name === shown)!
  const follow = eye.follow[lid]!
  const held = drawn ?? follow.keys
  const keys = held[shown] ?? []
  const plane = planeOf(SIZE, EDGE, [-FARTHEST, FARTHEST], curve.range, 1)
  const given = (changed: CurveKey[]): GazeFollow => ({ ...held, [shown]: changed })
  const path = pathOf(follow[shown], ([at, value]) => plane.pixel(at!, value!))
  const picked = Math.min(chosen, keys.length - 1)
  const [middle, level] = plane.pixel(0, 0)
  return (
    <div className="curve-editor">
      <div className="row">
        {(['upper', 'lower'] as const).map((name) => (
          <button key={name} className="chip" aria-pressed={name === lid} onClick={() => onLid(name)}>
            {name === 'upper' ? 'Upper lid' : 'Lower lid'}
          </button>
        ))}
      </div>
      <div className="row">
        {CURVES.map(({ name, label }) => (
          <button key={name} className="chip" aria-pressed={name === shown} onClick={() => setShown(name)}>
            {label}
          </button>
        ))}
      </div>
      <CurvePicture label={`${curve.label}, ${lid} lid of eye ${eye.side}`} size={SIZE} keys={keys} picked={picked} plane={plane} onPick={setChosen} onDraw={(k) => onDraw(given(k))} onSet={(k) => onSet(given(k))}>
        <path d={`M${EDGE} ${level}H${SIZE.width - EDGE}M${middle} ${EDGE}V${SIZE.height - EDGE}`} stroke="var(--line)" />
        <path d={path} fill="none" stroke="var(--spruce)" strokeWidth="1.8" />
        <text x={EDGE} y={SIZE.height - 3} className="tiny">
          looking {curve.ends[0]}
        </text>
        <text x={SIZE.width - EDGE} y={SIZE.height - 3} textAnchor="end" className="tiny">
          looking {curve.ends[1]}
        </text>
        <text x={middle + 4} y={EDGE - 3} className="tiny">
          {shown === 'slide' ? 'outwards' : 'closes'}
        </text>
      </CurvePicture>
      <CurveFields keys={keys} picked={picked} plane={plane} at={GAZE} value={curve.value} onSet={(k) => onSet(given(k))} />
    </div>
  )
}
