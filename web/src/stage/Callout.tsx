import { useEffect, useRef } from 'react'
import type { CharacterOut, Check } from '../api/client'
import { useBench } from '../state/bench'
import { excess, useFindings } from '../state/findings'
import type { StageEngine } from './engine'
import { headBox, overlap } from './headBox'

interface Props {
  engine: StageEngine | null
  character: CharacterOut
  /** The check that is open at Check-in; it goes before any finding. */
  check: Check | null
}

/** What the stage speaks of, pinned to its place by a thread: the open check, else the finding of the chosen seam, else the worst in this pose. */
export function Callout({ engine, character, check }: Props) {
  const findings = useFindings()
  const seam = useBench((s) => s.seam)
  const pose = useBench((s) => s.pose)
  const strength = useBench((s) => s.strength)
  const report = useBench((s) => (s.pose ? s.reports[s.pose] : undefined))
  const inPose = [...(report?.findings ?? [])].sort((a, b) => excess(b) - excess(a))
  const finding = strength === 1 && pose ? (inPose.find((f) => f.about === seam) ?? inPose[0]) : undefined
  const trial = useBench((s) => s.trial !== null)
  // what was measured is not of what is tried
  const shown = check || trial ? null : finding

  useEffect(() => {
    engine?.mark(shown?.point ?? null)
  }, [engine, shown])

  if (check) {
    const anchor = anchorOf(check)
    const at = () => (anchor && engine?.projectVertex(anchor)) ?? null
    return <Pinned key={check.key} engine={engine} character={character} at={at} title={check.label} text={check.said} tone={check.verdict} />
  }
  if (!shown) return null
  const more = findings.length > 1 ? `${findings.length - 1} more elsewhere` : undefined
  return <Pinned key={shown.about} engine={engine} character={character} at={() => (shown.point && engine?.project(shown.point)) ?? null} title={shown.title} text={shown.text} more={more} tone="fault" />
}

/** The vertex the thread leads to: a marked one, else one in the middle of the first place. */
function anchorOf(check: Check): { part: string; vertex: number } | undefined {
  const mark = check.marks?.[0]
  if (mark) return mark
  const place = check.places?.[0]
  const vertex = place?.vertices[Math.floor(place.vertices.length / 2)]
  return place && vertex !== undefined ? { part: place.part, vertex } : undefined
}

const EDGE = 12 // px from the corner of the stage in which a callout stands
const CARD = { width: 178, height: 130 } // px that it takes there at the most

/** A callout stands in the corner; where it would lie over the head it is laid along the lower edge of the stage. */
function keepClear(card: HTMLElement, engine: StageEngine, character: CharacterOut) {
  const head = headBox(engine, character)
  const { clientHeight } = engine.canvas
  const corner = { left: 0, right: EDGE + CARD.width, top: clientHeight - EDGE - CARD.height, bottom: clientHeight }
  card.classList.toggle('docked', head !== null && overlap(head, corner))
}

interface PinnedProps {
  engine: StageEngine | null
  character: CharacterOut
  at: () => { x: number; y: number } | null
  title: string
  text: string
  more?: string
  tone: Check['verdict']
}

function Pinned({ engine, character, at, title, text, more, tone }: PinnedProps) {
  const path = useRef<SVGPathElement>(null)
  const card = useRef<HTMLDivElement>(null)
  useEffect(() => {
    return engine?.watch(() => {
      const place = at()
      const box = card.current
      if (box) keepClear(box, engine, character)
      if (!place || !box || !path.current) {
        path.current?.setAttribute('d', '')
        return
      }
      const x = box.offsetLeft + box.offsetWidth
      const y = box.offsetTop + box.offsetHeight / 2
      path.current.setAttribute('d', `M${x} ${y} H${Math.max(x + 18, place.x - Math.abs(place.y - y) * 0.8)} L${place.x} ${place.y}`)
    })
  })
  return (
    <>
      <svg className="leader" aria-hidden>
        <path ref={path} className={tone} strokeWidth="1.4" fill="none" />
      </svg>
      <div className={`card callout ${tone}`} ref={card} role="status">
        <b>{title}</b>
        <div className="quiet">{text}</div>
        {more && <div className="quiet num">{more}</div>}
      </div>
    </>
  )
}
