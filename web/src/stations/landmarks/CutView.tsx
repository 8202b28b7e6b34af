import type { Cut } from '../../api/client'
import { mm } from '../../ui/names'

const SIZE = 140
const WIDE = 30 // mm that the picture shows
const SCALE_BAR = 5 // mm

const px = (length: number) => (length / WIDE) * SIZE

/** A flat cut through the gaze axis and the contact: the lid's flesh against the turned eye, with a scale. */
export function CutView({ cut, depth }: { cut: Cut; depth: number }) {
  const [x, y] = cut.contact as [number, number]
  // the contact in the middle, the way the eye looks to the right
  const path = (line: number[][]) => line.map(([a, b], k) => `${k ? 'L' : 'M'}${px(a! - x)} ${-px(b! - y)}`).join('')
  return (
    <svg width={SIZE} height={SIZE} viewBox={`${-SIZE / 2} ${-SIZE / 2} ${SIZE} ${SIZE}`} role="img" aria-label={`Section through the contact, ${mm(depth)}`} className="cut">
      {cut.eye.map((line, k) => (
        <path key={k} d={`${path(line)}Z`} fill="rgba(74,108,140,.14)" stroke="var(--slate)" strokeWidth="1.4" />
      ))}
      {cut.skin.map((line, k) => (
        <path key={k} d={path(line)} fill="none" stroke="var(--ink)" strokeWidth="1.4" />
      ))}
      <circle r="4.5" fill="none" stroke={depth > 0 ? 'var(--madder)' : 'var(--spruce)'} strokeWidth="1.8" />
      <g transform={`translate(${-SIZE / 2 + 8} ${SIZE / 2 - 8})`}>
        <path d={`M0 -3V0H${px(SCALE_BAR)}V-3`} fill="none" stroke="var(--quiet)" />
        <text x={px(SCALE_BAR) + 5} y="1" fontSize="9.5" fill="var(--quiet)" className="num">
          {SCALE_BAR} mm
        </text>
      </g>
    </svg>
  )
}
