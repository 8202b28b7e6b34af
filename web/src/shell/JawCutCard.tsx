import { useState } from 'react'
import type { CharacterOut } from '../api/client'
import { useBench } from '../state/bench'
import { useJawCut } from '../state/jaw'
import { fitOf, pathOf, ScaleBar } from '../ui/drawing'
import { SectionCard } from './SectionCard'

const SIZE = { width: 204, height: 150 }
const EDGE = 8
const BAR = 20 // mm
const INSIDE = 24 // the signs of the sides stand clear of the outline

/** The outline of the cheeks on the stage against the neutral; the slider takes it from the jaw's edge to the cheeks. */
export function JawCutCard({ character }: { character: CharacterOut }) {
  const [place, setPlace] = useState(0.5)
  const open = useBench((s) => s.cutOpen)
  const { data: cut } = useJawCut(character, 'cheeks', place, open)
  return (
    <SectionCard
      title="Section, cheeks"
      what="A flat cut across the cheeks"
      place={place}
      onPlace={setPlace}
      ends={['jaw', 'cheeks']}
      slider="Height of the section"
      picture={cut && <Outline {...cut} />}
      said={
        <p className="said">
          <span style={{ color: 'var(--plum)' }}>posed</span> against <span className="quiet">neutral</span>, from above
        </p>
      }
    />
  )
}

/** From above with the face downwards the character's left is on the right; the back of the neck is left out. */
function Outline({ neutral, posed }: { neutral: number[][][]; posed: number[][][] }) {
  const turned = ([x, z]: number[]) => [x!, -z!]
  const face = [...neutral, ...posed].flat().filter((p) => p[1]! > 0)
  const fit = fitOf({ ...SIZE, edge: EDGE }, [...face, [0, 0]].map(turned))
  const path = (line: number[][]) => pathOf(line.map(turned), fit.at)
  return (
    <svg {...SIZE} role="img" aria-label="Outline of the cheeks against the neutral" className="cut">
      {neutral.map((l, k) => (
        <path key={`n${k}`} d={path(l)} fill="none" stroke="var(--quiet)" strokeDasharray="7 4" />
      ))}
      {posed.map((l, k) => (
        <path key={`p${k}`} d={path(l)} fill="none" stroke="var(--plum)" strokeWidth="1.8" />
      ))}
      <text x={INSIDE} y={EDGE + 6} className="tiny">
        R
      </text>
      <text x={SIZE.width - INSIDE} y={EDGE + 6} textAnchor="end" className="tiny">
        L
      </text>
      <ScaleBar x={8} y={SIZE.height - 8} mm={BAR} scale={fit.scale} />
    </svg>
  )
}
