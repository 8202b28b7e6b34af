import type { CharacterOut, Uneven } from '../api/client'
import { useBench } from '../state/bench'
import { mm } from '../ui/names'
import { SeamGauge } from '../ui/SeamGauge'

/** What is uneven in one pose. */
export interface Sides {
  pose: string
  uneven: Uneven
}

/** How far left and right disagree in a region; a click shows the pose in which they do most, coloured by it. */
export function UnevenRow({ character, region, sides }: { character: CharacterOut; region: string; sides: Sides[] }) {
  const present = useBench((s) => s.pose)
  const worst = sides.reduce((a, b) => (b.uneven.millimetres > a.uneven.millimetres ? b : a))
  const { limit, label, millimetres } = worst.uneven
  const over = millimetres > limit
  const goThere = () => {
    const s = useBench.getState()
    s.goToPose(worst.pose)
    s.set({ seam: null, tint: 'mirror' })
    if (worst.uneven.worst) s.lookAt(worst.uneven.worst.point as [number, number, number])
  }
  const pose = character.poses.find((p) => p.name === worst.pose)?.label
  const ticks = sides.map(({ pose, uneven }) => ({ pose, value: uneven.millimetres, over: uneven.millimetres > uneven.limit }))
  const said = `${region}, left against right: ${mm(millimetres)} apart at most, in ${pose}`
  return (
    <button className={`bare seam-row ${over ? 'uneven' : ''}`} title={`${said} (${label})`} onClick={goThere} data-uneven={worst.uneven.region}>
      <span className="seam-name quiet">Left against right</span>
      <SeamGauge oneSided ticks={ticks} present={present} band={[0, limit]} label={said} />
      <span className="num">{millimetres.toFixed(2)}</span>
    </button>
  )
}
