import { useQuery } from '@tanstack/react-query'
import { Popover } from 'antd'
import { useMemo } from 'react'
import { useNavigate } from 'react-router-dom'
import { fetchMeasure, type CharacterOut, type MeasureOut, type Reading, type Seam } from '../api/client'
import { useBench } from '../state/bench'
import { HERE, useHere } from '../state/here'
import { gaugeValue, oneSided, stationOf } from '../state/seams'
import { GaugeLegend, SeamGauge } from '../ui/SeamGauge'
import { SkinRow, skinRowsOf, worstOf } from './SkinRow'
import { UnevenRow, type Sides } from './UnevenRow'

const REGIONS = [
  { key: 'eyes', label: 'Eyes' },
  { key: 'mouth', label: 'Mouth' },
  { key: 'inside', label: 'Inside the mouth' },
  { key: 'neck', label: 'Neck' },
  { key: 'hair', label: 'Hair' },
  { key: 'skin', label: 'Skin' },
] as const

interface Row {
  seam: Seam
  readings: { pose: string; reading: Reading }[]
  worst: { pose: string; reading: Reading } | undefined
}

function rowsOf(character: CharacterOut, reports: Record<string, MeasureOut>): Row[] {
  return character.seams.map((seam) => {
    const readings = character.poses.flatMap((p) => {
      const reading = reports[p.name]?.readings.find((r) => r.seam === seam.name)
      return reading ? [{ pose: p.name, reading }] : []
    })
    const worst = readings.reduce<Row['worst']>((a, b) => (!a || (b.reading.excess ?? 0) > (a.reading.excess ?? 0) ? b : a), undefined)
    return { seam, readings, worst }
  })
}

/** By region, how far left and right disagree in each pose in which they should agree. */
function unevenOf(character: CharacterOut, reports: Record<string, MeasureOut>): Map<string, Sides[]> {
  const found = new Map<string, Sides[]>()
  for (const { name } of character.poses)
    for (const uneven of reports[name]?.uneven ?? []) found.set(uneven.region, [...(found.get(uneven.region) ?? []), { pose: name, uneven }])
  return found
}

const excess = (row: Row) => row.worst?.reading.excess ?? 0

/** Worst value of a seam as one number with its sign: minus is overlap, plus is gap; lag and drift have none. */
function said(row: Row): string {
  if (!row.worst) return '…'
  const value = gaugeValue(row.worst.reading)
  if (oneSided(row.seam)) return Math.abs(value) < 0.005 ? '0.00' : value.toFixed(value >= 10 ? 1 : 2)
  return `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(value).toFixed(2)}`
}

/** Readings of the pinned revision in the present pose, by seam. */
function usePinnedReadings(character: CharacterOut): Map<string, Reading> {
  const pin = useBench((s) => s.pin?.number)
  const pose = useBench((s) => s.pose)
  const { data } = useQuery({
    queryKey: ['pinned', character.id, pin, pose],
    queryFn: () => fetchMeasure(character.id, pin!, pose!),
    enabled: pin !== undefined && pose !== null,
    retry: false,
  })
  return useMemo(() => new Map(pin === undefined ? [] : data?.readings.map((r) => [r.seam, r])), [data, pin])
}

/** Every seam in a line with its gauge: first what is over its limit, then by region, the worst first. */
export function SeamList({ character }: { character: CharacterOut }) {
  const reports = useBench((s) => s.reports)
  const pinned = usePinnedReadings(character)
  const here = useHere(character)
  const rows = useMemo(() => rowsOf(character, reports).sort((a, b) => excess(b) - excess(a)), [character, reports])
  const uneven = useMemo(() => unevenOf(character, reports), [character, reports])
  const skin = useMemo(() => skinRowsOf(character, Object.fromEntries(Object.entries(reports).map(([pose, r]) => [pose, r.skin]))), [character, reports])
  const trying = useBench((s) => s.trial !== null)
  const over = rows.filter((r) => excess(r) > 1)
  const isOver = (row: (typeof skin)[number]) => worstOf(row).reading.excess > 1
  const groups = [
    { key: 'over', label: 'Over their limit', rows: over, skin: skin.filter(isOver) },
    ...REGIONS.map(({ key, label }) => ({
      key,
      label,
      rows: rows.filter((r) => r.seam.region === key && excess(r) <= 1),
      skin: key === 'skin' ? skin.filter((r) => !isOver(r)) : [],
    })),
  ]
  return (
    <section className="seams" aria-label="Seams">
      <h3>
        <span>Seams {trying && <span className="quiet">as they are now</span>}</span>
        <Popover trigger={['hover', 'click']} placement="rightTop" content={<GaugeLegend />}>
          <button className="bare quiet num" aria-label="How to read the gauges">
            mm ?
          </button>
        </Popover>
      </h3>
      {!character.seams.length && (
        <p className="quiet seams-empty">
          {character.bones.length
            ? 'No seams yet. They come with a first rig, set up at Landmarks.'
            : 'Seams are measured once the head has bones: first check it in, then place landmarks.'}
        </p>
      )}
      {groups
        .filter((group) => group.rows.length || group.skin.length || uneven.has(group.key))
        .map((group) => (
          <div key={group.key} className={`seam-group ${group.key}`} role="group" aria-label={group.label}>
            <h4>
              {group.label} {group.rows.length + group.skin.length > 0 && <span className="num">{group.rows.length + group.skin.length}</span>}
            </h4>
            {group.rows.map((row) => (
              <SeamRow key={row.seam.name} character={character} row={row} pinned={pinned.get(row.seam.name)} here={here?.readings.find((r) => r.seam === row.seam.name)} />
            ))}
            {group.skin.map((row) => (
              <SkinRow key={row.kind} character={character} row={row} />
            ))}
            {uneven.has(group.key) && <UnevenRow character={character} region={group.label} sides={uneven.get(group.key)!} />}
          </div>
        ))}
    </section>
  )
}

interface SeamRowProps {
  character: CharacterOut
  row: Row
  pinned: Reading | undefined
  /** In the frame of a take that is on the stage. */
  here: Reading | undefined
}

function SeamRow({ character, row, pinned, here }: SeamRowProps) {
  const navigate = useNavigate()
  const open = useBench((s) => s.seam === row.seam.name)
  const pose = useBench((s) => s.pose)
  const present = here ? HERE : pose
  const { seam, worst } = row
  const over = excess(row) > 1
  const limits = seam.limits
  const alone = oneSided(seam)
  const allowed = (seam.kind === 'follow' ? limits.lag : worst?.reading.aside ? limits.aside : limits.drift) ?? 0
  const band: [number, number] = alone ? [0, allowed] : [limits.overlap ?? 0, worst?.reading.gap_limit ?? limits.gap ?? limits.closed_gap ?? 0]
  const ticks = [...row.readings, ...(here ? [{ pose: HERE, reading: here }] : [])].map(({ pose, reading }) => ({ pose, value: gaugeValue(reading), over: (reading.excess ?? 0) > 1 }))
  const goThere = () => {
    const s = useBench.getState()
    if (worst) s.goToPose(worst.pose)
    const point = worst?.reading.worst?.point as [number, number, number] | undefined
    s.set({ seam: seam.name, selectedPart: seam.probe })
    if (point) s.lookAt(point)
    if (over) navigate(`/characters/${character.id}/${stationOf(seam)}?pose=${worst?.pose}&seam=${seam.name}`)
  }
  const worstPose = character.poses.find((p) => p.name === worst?.pose)?.label
  const title = worst ? `${seam.label}: ${seam.kind === 'follow' ? 'lag ' : seam.kind === 'ride' ? (worst.reading.aside ? 'drift along the skin ' : 'drift off the skin ') : ''}${said(row)} mm at worst, in ${worstPose}` : seam.label
  return (
    <button className={`bare seam-row ${open ? 'open' : ''} ${over ? 'over' : ''}`} title={title} onClick={goThere} data-seam={seam.name}>
      <span className="seam-name">{seam.label}</span>
      <SeamGauge oneSided={alone} ticks={ticks} present={present} band={band} label={`${seam.label}: ${said(row)} mm at worst`} pinned={pinned && gaugeValue(pinned)} />
      <span className="num">{said(row)}</span>
    </button>
  )
}
