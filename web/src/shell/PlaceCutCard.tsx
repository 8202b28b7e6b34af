import { useState } from 'react'
import type { CharacterOut, PlaceLine } from '../api/client'
import { useMixView, usePlaceCut } from '../state/mix'
import { partLabel } from '../ui/names'
import { pathOf, ScaleBar } from '../ui/drawing'
import { SectionCard } from './SectionCard'

const SIZE = { width: 204, height: 150 }
const WIDEST = 50 // mm that the picture shows, least and most
const NARROWEST = 5
const COLOURS: Partial<Record<PlaceLine['kind'], string>> = { skin: 'var(--ink)', eye: 'var(--slate)', tongue: 'var(--madder)', 'teeth upper': 'var(--ochre)', 'teeth lower': 'var(--ochre)', cloth: 'var(--plum)' }

/** What lies about the place that is looked at, cut flat in the pose on the stage; the slider goes nearer. */
export function PlaceCutCard({ character }: { character: CharacterOut }) {
  const place = useMixView((s) => s.place)
  const [near, setNear] = useState(0.4)
  const { data: lines } = usePlaceCut(character)
  if (!place) return null
  const wide = WIDEST * (NARROWEST / WIDEST) ** near
  const shown = (lines ?? []).filter((l) => l.points.some(([x, y]) => Math.abs(x!) < wide / 2 && Math.abs(y!) < wide / 2))
  const parts = [...new Map(shown.map((l) => [l.part, l.kind]))]
  return (
    <SectionCard
      title="Section"
      what="A flat cut through the place that is looked at"
      place={near}
      onPlace={setNear}
      ends={['wide', 'near']}
      slider="How near the section is"
      picture={lines && <Picture lines={lines} wide={wide} />}
      said={
        <p className="said">
          {parts.map(([part, kind]) => (
            <span key={part} style={{ color: COLOURS[kind] ?? 'var(--quiet)' }}>
              {partLabel(part)}{' '}
            </span>
          ))}
        </p>
      }
    />
  )
}

/** Outwards is to the right; the place stands in the middle. */
function Picture({ lines, wide }: { lines: PlaceLine[]; wide: number }) {
  const { width, height } = SIZE
  const scale = width / wide
  const at = ([out, up]: number[]) => [out! * scale, -up! * scale] as const
  const bar = wide > 20 ? 5 : wide > 8 ? 2 : 1
  return (
    <svg width={width} height={height} viewBox={`${-width / 2} ${-height / 2} ${width} ${height}`} role="img" aria-label="Section through the place" className="cut">
      {lines.map((l, k) => (
        <path key={k} d={pathOf(l.points, at)} fill="none" stroke={COLOURS[l.kind] ?? 'var(--quiet)'} strokeWidth="1.5" />
      ))}
      <circle r="5" fill="none" stroke="var(--madder)" strokeWidth="1.6" strokeDasharray="3 2" />
      <ScaleBar x={-width / 2 + 8} y={height / 2 - 8} mm={bar} scale={scale} />
    </svg>
  )
}
