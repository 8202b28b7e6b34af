import { Slider } from 'antd'
import { useState } from 'react'
import type { CharacterOut, EyeLids } from '../../api/client'
import { shownValues, useBench } from '../../state/bench'
import { useLidCut } from '../../state/lidBoard'
import { mm } from '../../ui/names'

const SIZE = { width: 288, height: 190 }
const WIDE = 36 // mm that the picture shows
const AHEAD = 9 // mm before the eye's centre that stand in the middle
const SCALE_BAR = 5 // mm
const DEEP = 0.005 // mm from which an overlap is told

const px = (length: number) => (length / WIDE) * SIZE.width

/** A flat cut across the lids in the pose on the stage; the slider takes it from the inner to the outer corner. */
export function LidCutView({ character, eye }: { character: CharacterOut; eye: EyeLids }) {
  const [place, setPlace] = useState(0.5)
  const values = useBench(shownValues)
  const { data: cut, error } = useLidCut(character, eye.side, place, values)
  const path = (line: number[][]) => line.map(([ahead, up], k) => `${k ? 'L' : 'M'}${px(ahead! - AHEAD).toFixed(1)} ${(-px(up!)).toFixed(1)}`).join('')
  const over = cut ? cut.clearance < -DEEP : false
  const said = cut && (over ? `overlap ${mm(-cut.clearance)}` : `nearest ${mm(Math.max(0, cut.clearance))}`)
  return (
    <section aria-label="Section">
      <h3>Section</h3>
      {error && <p className="madder">{error.message}</p>}
      <svg width={SIZE.width} height={SIZE.height} viewBox={`${-SIZE.width / 2} ${-SIZE.height / 2} ${SIZE.width} ${SIZE.height}`} role="img" aria-label={`Section of the lids, ${said ?? 'being cut'}`} className="cut">
        {cut?.eye.map((line, k) => (
          <path key={k} d={path(line)} fill="rgba(74,108,140,.14)" stroke="var(--slate)" strokeWidth="1.4" />
        ))}
        {cut?.skin.map((line, k) => (
          <path key={k} d={path(line)} fill="none" stroke="var(--ink)" strokeWidth="1.4" />
        ))}
        {cut && <circle cx={px(cut.contact[0]! - AHEAD)} cy={-px(cut.contact[1]!)} r="4.5" fill="none" stroke={over ? 'var(--madder)' : 'var(--spruce)'} strokeWidth="1.8" />}
        <g transform={`translate(${-SIZE.width / 2 + 8} ${SIZE.height / 2 - 8})`}>
          <path d={`M0 -3V0H${px(SCALE_BAR)}V-3`} fill="none" stroke="var(--quiet)" />
          <text x={px(SCALE_BAR) + 5} y="1" className="tiny num">
            {SCALE_BAR} mm
          </text>
        </g>
      </svg>
      <div className="cut-slider">
        <span className="quiet">inner</span>
        <Slider min={0} max={100} value={Math.round(place * 100)} onChange={(v) => setPlace(v / 100)} tooltip={{ open: false }} ariaLabelForHandle="Place of the section" />
        <span className="quiet">outer</span>
        <span className={`num ${over ? 'madder' : ''}`}>{said}</span>
      </div>
    </section>
  )
}
