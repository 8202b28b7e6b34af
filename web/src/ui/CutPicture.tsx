import { pathOf, ScaleBar } from './drawing'

const SCALE_BAR = 5 // mm

interface Props {
  label: string
  size: { width: number; height: number }
  /** mm that the picture shows across. */
  wide: number
  /** What stands in the middle of the picture, forward and up, mm. */
  middle: readonly [number, number]
  cut: { skin: number[][][]; eye: number[][][]; contact: number[] }
  /** Do skin and eye overlap where they are nearest? */
  overlaps: boolean
}

/** A flat cut through lids and eye, with a scale and a ring where they touch. */
export function CutPicture({ label, size: { width, height }, wide, middle, cut, overlaps }: Props) {
  const px = (length: number) => (length / wide) * width
  const at = ([ahead, up]: number[]): [number, number] => [px(ahead! - middle[0]), -px(up! - middle[1])]
  const path = (line: number[][]) => pathOf(line, at)
  const [x, y] = at(cut.contact)
  return (
    <svg width={width} height={height} viewBox={`${-width / 2} ${-height / 2} ${width} ${height}`} role="img" aria-label={label} className="cut">
      {cut.eye.map((line, k) => (
        <path key={k} d={`${path(line)}Z`} fill="rgba(74,108,140,.14)" stroke="var(--slate)" strokeWidth="1.4" />
      ))}
      {cut.skin.map((line, k) => (
        <path key={k} d={path(line)} fill="none" stroke="var(--ink)" strokeWidth="1.4" />
      ))}
      <circle cx={x} cy={y} r="4.5" fill="none" stroke={overlaps ? 'var(--madder)' : 'var(--spruce)'} strokeWidth="1.8" />
      <ScaleBar x={-width / 2 + 8} y={height / 2 - 8} mm={SCALE_BAR} scale={width / wide} />
    </svg>
  )
}
