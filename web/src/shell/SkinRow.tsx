import type { CharacterOut, SkinReading } from '../api/client'
import { useBench } from '../state/bench'
import { lookAtPlace } from '../state/mix'
import { percent } from '../ui/names'
import { SeamGauge } from '../ui/SeamGauge'
import { KINDS } from '../ui/kinds'

/** What the skin does of one kind, in the poses in which it comes near to its limit. */
export interface SkinRowOf {
  kind: SkinReading['kind']
  readings: { pose: string; reading: SkinReading }[]
}

export const worstOf = ({ readings }: SkinRowOf) => readings.reduce((a, b) => (b.reading.excess > a.reading.excess ? b : a))

/** By kind, the worst first. */
export function skinRowsOf(character: CharacterOut, skins: Record<string, SkinReading[] | null | undefined>): SkinRowOf[] {
  const rows = new Map<SkinReading['kind'], SkinRowOf>()
  for (const { name } of character.poses)
    for (const reading of skins[name] ?? []) {
      const row = rows.get(reading.kind) ?? { kind: reading.kind, readings: [] }
      row.readings.push({ pose: name, reading })
      rows.set(reading.kind, row)
    }
  return [...rows.values()].sort((a, b) => worstOf(b).reading.excess - worstOf(a).reading.excess)
}

/** As the narrow column has it; the unit stands in the title. */
const shortSize = ({ size, unit }: SkinReading) => (unit === 'share' ? percent(size) : `${size.toFixed(size >= 10 ? 1 : 2)}${unit === 'times' ? '×' : ''}`)

/** A line of the list of seams; a click shows the pose and the place, marked. Its gauge counts limits: the band ends at one. */
export function SkinRow({ character, row }: { character: CharacterOut; row: SkinRowOf }) {
  const present = useBench((s) => s.pose)
  const { pose, reading } = worstOf(row)
  const over = reading.excess > 1
  const ticks = row.readings.map((r) => ({ pose: r.pose, value: r.reading.excess, over: r.reading.excess > 1 }))
  const goThere = () => {
    const s = useBench.getState()
    s.goToPose(pose)
    s.set({ seam: 'skin' })
    lookAtPlace({ ...reading.worst, vertices: reading.vertices })
  }
  const label = character.poses.find((p) => p.name === pose)?.label
  const said = `${KINDS[row.kind]}: ${reading.called}, ${reading.said} in ${label}; ${reading.allowed} are allowed`
  return (
    <button className={`bare seam-row ${over ? 'over' : ''}`} title={said} onClick={goThere} data-skin={row.kind}>
      <span className="seam-name">Skin · {KINDS[row.kind].toLowerCase()}</span>
      <SeamGauge oneSided ticks={ticks} present={present} band={[0, 1]} label={said} />
      <span className="num">{shortSize(reading)}</span>
    </button>
  )
}
