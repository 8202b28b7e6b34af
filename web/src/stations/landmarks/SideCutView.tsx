import { useRef, useState } from 'react'
import type { SideCut } from '../../api/client'
import { pathOf } from '../../ui/drawing'

const WIDTH = 280
const HEIGHT = 210
const WIDE = 190 // mm that the picture shows
const SCALE = WIDTH / WIDE // px a mm
const SCALE_BAR = 20 // mm
const TINTS: Record<string, string> = { skin: 'var(--ink)', eye: 'var(--slate)', 'teeth upper': 'var(--ochre)', 'teeth lower': 'var(--ochre)', tongue: 'var(--madder)' }

interface Props {
  cut: SideCut
  /** Millimetres forward and up from where the landmark is. */
  onDrop: (forward: number, up: number) => void
}

/** A look into the head from its left, cut through the landmark, which can be dragged forward and up. */
export function SideCutView({ cut, onDrop }: Props) {
  const svg = useRef<SVGSVGElement>(null)
  const [moved, setMoved] = useState<[number, number] | null>(null)
  const px = (x: number) => WIDTH / 2 + x * SCALE
  const py = (y: number) => HEIGHT / 2 - y * SCALE
  const at = (e: React.PointerEvent): [number, number] => {
    const box = svg.current!.getBoundingClientRect()
    return [(e.clientX - box.left - px(0)) / SCALE, -(e.clientY - box.top - py(0)) / SCALE]
  }
  const [x, y] = moved ?? [0, 0]
  return (
    <svg ref={svg} width={WIDTH} height={HEIGHT} className="cut side-cut" role="img" aria-label="Section from the side, through the landmark">
      {cut.lines.map((line, k) => (
        <path
          key={k}
          d={pathOf(line.points, ([a, b]) => [px(a!), py(b!)])}
          fill="none"
          stroke={TINTS[line.kind] ?? 'var(--quiet)'}
          strokeWidth="1.2"
        />
      ))}
      <g
        className="side-dot"
        transform={`translate(${px(x)} ${py(y)})`}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId)
          setMoved([0, 0])
        }}
        onPointerMove={(e) => moved && setMoved(at(e))}
        onPointerUp={() => {
          if (moved && Math.hypot(...moved) * SCALE > 2) onDrop(...moved)
          setMoved(null)
        }}
      >
        <circle r="11" fill="transparent" />
        <circle r="5" fill="var(--spruce)" stroke="var(--card)" strokeWidth="1.5" />
      </g>
      <g transform={`translate(8 ${HEIGHT - 8})`}>
        <path d={`M0 -3V0H${SCALE_BAR * SCALE}V-3`} fill="none" stroke="var(--quiet)" />
        <text x={SCALE_BAR * SCALE + 5} y="1" fontSize="9.5" fill="var(--quiet)" className="num">
          {SCALE_BAR} mm
        </text>
      </g>
    </svg>
  )
}
