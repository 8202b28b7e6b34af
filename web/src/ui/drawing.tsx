type At = (point: number[]) => readonly number[]

/** The path through points, each where `at` puts it on the picture. */
export const pathOf = (points: readonly number[][], at: At) => points.map((p, k) => `${k ? 'L' : 'M'}${at(p).map((v) => v.toFixed(1)).join(' ')}`).join('')

interface Frame {
  width: number
  height: number
  edge: number
}

/** Puts points on a picture as large as it holds all of them, upright: the first number goes to the right, the second up. */
export function fitOf({ width, height, edge }: Frame, points: readonly number[][]) {
  const [x0, x1, y0, y1] = [0, 1].flatMap((k) => [Math.min(...points.map((p) => p[k]!)), Math.max(...points.map((p) => p[k]!))]) as [number, number, number, number]
  const scale = Math.min((width - 2 * edge) / (x1 - x0 || 1), (height - 2 * edge) / (y1 - y0 || 1))
  return {
    scale,
    at: ([x, y]: number[]) => [width / 2 + (x! - (x0 + x1) / 2) * scale, edge + (y1 - y!) * scale] as const,
    /** The second number of a point that is drawn at so many pixels from the top. */
    up: (pixel: number) => Math.min(y1, Math.max(y0, y1 - (pixel - edge) / scale)),
  }
}

/** How long so many mm are on a picture; its left end stands at x and y. */
export function ScaleBar({ x, y, mm, scale }: { x: number; y: number; mm: number; scale: number }) {
  return (
    <g transform={`translate(${x} ${y})`}>
      <path d={`M0 -3V0H${mm * scale}V-3`} fill="none" stroke="var(--quiet)" />
      <text x={mm * scale + 5} y="1" className="tiny num">
        {mm} mm
      </text>
    </g>
  )
}

/** A line as it is drawn on the picture above: its colour, and a dash as a second sign. */
export function LineSign({ colour, dash }: { colour: string | undefined; dash: string | undefined }) {
  return (
    <svg width="22" height="8" aria-hidden>
      <path d="M0 4H22" stroke={colour} strokeWidth="2" strokeDasharray={dash} />
    </svg>
  )
}
