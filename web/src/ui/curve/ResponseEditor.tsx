import { useState } from 'react'
import type { CurveKey, Schemas } from '../../api/client'
import { CurveFields, type Spoken } from './CurveFields'
import { CurvePicture } from './CurvePicture'
import { planeOf } from './plane'
import { pathOf } from '../drawing'

const SIZE = { width: 280, height: 124 }
const EDGE = 18

interface Props {
  label: string
  curve: Schemas['CurveOut']
  at: [number, number]
  /** What the ends of the picture stand for. */
  ends: [string, string]
  value: [number, number]
  says: { at: Spoken; value: Spoken }
  endsStay?: boolean
  onSet: (keys: CurveKey[]) => void
}

/** A curve with keys to drag, type, add and delete. While a key is dragged straight lines stand for what comes of it. */
export function ResponseEditor({ label, curve, at, ends, value, says, endsStay = false, onSet }: Props) {
  const [drawn, setDrawn] = useState<{ of: CurveKey[]; keys: CurveKey[] } | null>(null)
  const [chosen, setChosen] = useState(0)
  if (drawn && drawn.of !== curve.keys) setDrawn(null) // others came of it; an undo would bring those back that it was drawn on
  const moving = drawn && drawn.of === curve.keys ? drawn.keys : null
  const keys = moving ?? curve.keys
  const plane = planeOf(SIZE, EDGE, at, value, (at[1] - at[0]) / 200, endsStay)
  const picked = Math.min(chosen, keys.length - 1)
  const path = pathOf(moving ? moving.map((k) => [k.at, k.value]) : curve.path, ([a, v]) => plane.pixel(a!, v!))
  const level = plane.pixel(at[0], 0)[1]
  const give = (changed: CurveKey[]) => {
    setDrawn({ of: curve.keys, keys: changed })
    onSet(changed)
  }
  return (
    <div className="curve-editor">
      <CurvePicture label={label} size={SIZE} keys={keys} picked={picked} plane={plane} onPick={setChosen} onDraw={(k) => setDrawn({ of: curve.keys, keys: k })} onSet={give}>
        <path d={`M${EDGE} ${level}H${SIZE.width - EDGE}`} stroke="var(--line)" />
        {value[0] <= 1 && value[1] >= 1 && <path d={`M${EDGE} ${plane.pixel(0, 1)[1]}H${SIZE.width - EDGE}`} stroke="var(--line)" strokeDasharray="2 3" />}
        <path d={path} fill="none" stroke="var(--spruce)" strokeWidth="1.8" strokeDasharray={moving ? '7 4' : undefined} />
        <text x={EDGE} y={SIZE.height - 3} className="tiny">
          {ends[0]}
        </text>
        <text x={SIZE.width - EDGE} y={SIZE.height - 3} textAnchor="end" className="tiny">
          {ends[1]}
        </text>
      </CurvePicture>
      <CurveFields keys={keys} picked={picked} plane={plane} at={says.at} value={says.value} onSet={give} />
    </div>
  )
}
