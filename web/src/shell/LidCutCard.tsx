import { useState } from 'react'
import type { CharacterOut } from '../api/client'
import { useBench } from '../state/bench'
import { useLidCut } from '../state/lidBoard'
import { CutPicture } from '../ui/CutPicture'
import { mm } from '../ui/names'
import { SectionCard } from './SectionCard'

const SIZE = { width: 204, height: 140 }
const WIDE = 24 // mm that the picture shows
const MIDDLE = [14, 0] as const // mm before the eye's centre, and above it
const DEEP = 0.005 // mm from which an overlap is told

/** The lids of the chosen eye on the stage; the slider takes the cut from the inner to the outer corner. */
export function LidCutCard({ character }: { character: CharacterOut }) {
  const [place, setPlace] = useState(0.5)
  const side = useBench((s) => s.lidSide)
  const open = useBench((s) => s.cutOpen)
  const { data: cut } = useLidCut(character, side, place, open)
  const over = cut !== undefined && cut.clearance < -DEEP
  const said = cut && (over ? `overlap ${mm(-cut.clearance)}` : `nearest ${mm(Math.max(0, cut.clearance))}`)
  return (
    <SectionCard
      title={`Section, eye ${side}`}
      what="A flat cut across the lids"
      place={place}
      onPlace={setPlace}
      ends={['inner', 'outer']}
      slider="Place of the section"
      picture={cut && <CutPicture label={`Section of the lids, ${said}`} size={SIZE} wide={WIDE} middle={MIDDLE} cut={cut} overlaps={over} />}
      said={<p className={`num said ${over ? 'madder' : ''}`}>{said}</p>}
    />
  )
}
