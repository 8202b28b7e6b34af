import { Slider } from 'antd'
import { useState } from 'react'
import type { CharacterOut } from '../../api/client'
import { shownValues, useBench } from '../../state/bench'
import { useLidCut } from '../../state/lidBoard'
import { mm } from '../../ui/names'

const SIZE = { width: 236, height: 168 }
const WIDE = 26 // mm that the picture shows
const AHEAD = 14 // mm before the eye's centre that stand in the middle
const SCALE_BAR = 5 // mm
const DEEP = 0.005 // mm from which an overlap is told

const px = (length: number) => (length / WIDE) * SIZE.width

/** A flat cut across the lids of the chosen eye in the pose on the stage; the slider takes it from the inner to the outer corner. */
export function LidCutCard({ character }: { character: CharacterOut }) {
  const [place, setPlace] = useState(0.5)
  const side = useBench((s) => s.lidSide)
  const open = useBench((s) => s.cutOpen)
  const set = useBench((s) => s.set)
  const values = useBench(shownValues)
  const { data: cut } = useLidCut(character, side, place, values, open)
  if (!open)
    return (
      <button className="chip lid-cut-open" title="A flat cut across the lids" onClick={() => set({ cutOpen: true })}>
        Section
      </button>
    )
  if (!cut) return null
  const path = (line: number[][]) => line.map(([ahead, up], k) => `${k ? 'L' : 'M'}${px(ahead! - AHEAD).toFixed(1)} ${(-px(up!)).toFixed(1)}`).join('')
  const over = cut.clearance < -DEEP
  const said = over ? `overlap ${mm(-cut.clearance)}` : `nearest ${mm(Math.max(0, cut.clearance))}`
  return (
    <section className="card lid-cut" aria-label="Section">
      <div className="panel-head">
        <b>Section, eye {side}</b>
        <button className="bare" aria-label="Close the section" onClick={() => set({ cutOpen: false })}>
          ×
        </button>
      </div>
      <svg {...SIZE} viewBox={`${-SIZE.width / 2} ${-SIZE.height / 2} ${SIZE.width} ${SIZE.height}`} role="img" aria-label={`Section of the lids, ${said}`} className="cut">
        {cut.eye.map((line, k) => (
          <path key={k} d={path(line)} fill="rgba(74,108,140,.14)" stroke="var(--slate)" strokeWidth="1.4" />
        ))}
        {cut.skin.map((line, k) => (
          <path key={k} d={path(line)} fill="none" stroke="var(--ink)" strokeWidth="1.4" />
        ))}
        <circle cx={px(cut.contact[0]! - AHEAD)} cy={-px(cut.contact[1]!)} r="4.5" fill="none" stroke={over ? 'var(--madder)' : 'var(--spruce)'} strokeWidth="1.8" />
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
      </div>
      <p className={`num said ${over ? 'madder' : ''}`}>{said}</p>
    </section>
  )
}
