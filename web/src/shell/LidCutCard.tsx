import { Slider } from 'antd'
import { useState } from 'react'
import type { CharacterOut } from '../api/client'
import { shownValues, useBench } from '../state/bench'
import { useLidCut } from '../state/lidBoard'
import { CutPicture } from '../ui/CutPicture'
import { mm } from '../ui/names'

const SIZE = { width: 204, height: 140 }
const WIDE = 24 // mm that the picture shows
const MIDDLE = [14, 0] as const // mm before the eye's centre, and above it
const DEEP = 0.005 // mm from which an overlap is told

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
      <CutPicture label={`Section of the lids, ${said}`} size={SIZE} wide={WIDE} middle={MIDDLE} cut={cut} overlaps={over} />
      <div className="cut-slider">
        <span className="quiet">inner</span>
        <Slider min={0} max={100} value={Math.round(place * 100)} onChange={(v) => setPlace(v / 100)} tooltip={{ open: false }} ariaLabelForHandle="Place of the section" />
        <span className="quiet">outer</span>
      </div>
      <p className={`num said ${over ? 'madder' : ''}`}>{said}</p>
    </section>
  )
}
