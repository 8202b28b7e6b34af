import { useState } from 'react'
import type { CurveKey, EyeLids } from '../../api/client'
import { CurveFields } from '../../ui/curve/CurveFields'
import { CurvePicture } from '../../ui/curve/CurvePicture'
import type { CurvePlane } from '../../ui/curve/plane'
import { pathOf } from '../../ui/drawing'

const SIZE = { width: 288, height: 150 }
const EDGE = 12
const PLACE = { label: 'Key at', name: 'Place of the key', unit: '%', times: 100 }
const HEIGHT = { label: 'Height', name: 'Height of the key', unit: '%', times: 100 }

interface Props {
  eye: EyeLids
  keys: CurveKey[]
  /** While a key is dragged. */
  onDraw: (keys: CurveKey[]) => void
  onSet: (keys: CurveKey[]) => void
}

type Line = [number, number][]

function read(line: Line, at: number): number {
  const k = Math.max(1, line.findIndex(([place]) => place >= at))
  const [[a, from], [b, to]] = [line[k - 1]!, line[k] ?? line[line.length - 1]!]
  return b === a ? from : from + ((to - from) * (at - a)) / (b - a)
}

/** The opening of an eye unrolled about it, in pixels: the places run along the corners, the values between the margins. */
function openingOf(eye: EyeLids): { plane: CurvePlane; pixel: (at: number, angle: number) => [number, number] } {
  const flip = eye.side === 'R' ? -1 : 1 // seen from in front: the character's left eye has its outer corner on the right
  const angles = [...eye.upper, ...eye.lower].map(([, angle]) => angle)
  const [low, high] = [Math.min(...angles) - 2, Math.max(...angles) + 2]
  const pixel = (at: number, angle: number): [number, number] => [
    EDGE + (flip > 0 ? at : 1 - at) * (SIZE.width - 2 * EDGE),
    SIZE.height - EDGE - ((angle - low) / (high - low)) * (SIZE.height - 2 * EDGE),
  ]
  const plane: CurvePlane = {
    pixel: (at, value) => {
      const bottom = read(eye.lower, at)
      return pixel(at, bottom + value * (read(eye.upper, at) - bottom))
    },
    place: (x, y) => {
      const share = (x - EDGE) / (SIZE.width - 2 * EDGE)
      const at = Math.min(0.98, Math.max(0.02, flip > 0 ? share : 1 - share))
      const angle = low + ((SIZE.height - EDGE - y) / (SIZE.height - 2 * EDGE)) * (high - low)
      const [bottom, top] = [read(eye.lower, at), read(eye.upper, at)]
      return [at, top - bottom < 0.5 ? 0.5 : (angle - bottom) / (top - bottom)]
    },
    at: [0, 1],
    value: [-0.5, 1.5],
    closest: 0.02,
    endsStay: true,
  }
  return { plane, pixel }
}

/** The opening of the lids, unrolled about the eye, and the line they close on: keys are dragged, added by a double click, typed, deleted. */
export function LineEditor({ eye, keys, onDraw, onSet }: Props) {
  const [chosen, setChosen] = useState(0)
  const { plane, pixel } = openingOf(eye)
  const path = (line: Line) => pathOf(line, ([at, angle]) => pixel(at!, angle!))
  const picked = Math.min(chosen, keys.length - 1)
  const corner = (at: number, word: string) => {
    const [x] = pixel(at, 0)
    return (
      <text x={x} y={SIZE.height - 4} textAnchor={x < SIZE.width / 2 ? 'start' : 'end'} className="tiny">
        {word}
      </text>
    )
  }
  return (
    <div className="curve-editor">
      <CurvePicture label={`Closed line of eye ${eye.side}`} size={SIZE} keys={keys} picked={picked} plane={plane} onPick={setChosen} onDraw={onDraw} onSet={onSet}>
        <path d={path(eye.upper)} fill="none" stroke="var(--quiet)" />
        <path d={path(eye.lower)} fill="none" stroke="var(--quiet)" />
        <path d={path(eye.line)} fill="none" stroke="var(--spruce)" strokeWidth="1.8" strokeDasharray="7 4" />
        {corner(0, 'inner')}
        {corner(1, 'outer')}
      </CurvePicture>
      <CurveFields keys={keys} picked={picked} plane={plane} at={PLACE} value={HEIGHT} onSet={onSet} />
    </div>
  )
}
