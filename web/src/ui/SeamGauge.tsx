const WIDTH = 46
const HEIGHT = 13
const FARTHEST = 20 // mm at the end of the scale
const FINE = 0.1 // mm up to which the scale is about linear

/** Signed logarithmic scale: a tenth of a millimetre can be told from two, and twenty still fit. */
const along = (mm: number) => Math.sign(mm) * Math.min(1, Math.log1p(Math.abs(mm) / FINE) / Math.log1p(FARTHEST / FINE))

interface Props {
  oneSided: boolean
  /** Value in each pose in mm: overlap negative, gap positive; lag and drift from zero. */
  ticks: { pose: string; value: number; over: boolean }[]
  present: string | null
  /** Tolerance in mm: most overlap, most gap; on one side the most lag or drift. */
  band: [number, number]
  label: string
  /** The value of the pinned revision in the present pose, mm. */
  pinned?: number
}

/** The seam gauge: centre line is perfect contact, left overlap, right gap. What lags or drifts has one side. */
export function SeamGauge({ oneSided, ticks, present, band, label, pinned }: Props) {
  const x = (mm: number) => (oneSided ? 3 + along(mm) * (WIDTH - 6) : WIDTH / 2 + along(mm) * (WIDTH / 2 - 3))
  const centre = x(0)
  const now = ticks.find((t) => t.pose === present)
  const left = oneSided ? centre : x(-band[0])
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label={label}>
      <line x1={2} x2={WIDTH - 2} y1={7} y2={7} stroke="var(--line)" />
      <rect x={left} width={Math.max(2, x(band[1]) - left)} y={3} height={8} rx={2} fill="color-mix(in srgb, var(--spruce) 15%, transparent)" />
      <line x1={centre} x2={centre} y1={1} y2={12} stroke="var(--quiet)" strokeDasharray="2 2" />
      {ticks.map((t) => (
        <line key={t.pose} x1={x(t.value)} x2={x(t.value)} y1={4} y2={10} stroke={t.over ? 'var(--madder)' : 'var(--spruce)'} opacity={0.75} />
      ))}
      {now && oneSided && <line x1={centre} x2={x(now.value)} y1={7} y2={7} stroke={now.over ? 'var(--madder)' : 'var(--spruce)'} strokeWidth={2} />}
      {now && (
        <rect className="now" x={-1.5} width={3} y={1.5} height={11} rx={1} fill={now.over ? 'var(--madder)' : 'var(--spruce)'} style={{ transform: `translateX(${x(now.value)}px)` }} />
      )}
      {pinned !== undefined && <path d={`M${x(pinned)} 2.5l3.6 4.5l-3.6 4.5l-3.6 -4.5z`} fill="var(--card)" stroke="var(--plum)" strokeWidth={1.4} data-pinned={pinned.toFixed(2)} />}
    </svg>
  )
}

/** What the marks of a gauge stand for. */
export function GaugeLegend() {
  const ticks = [-0.4, 0.02, 1.2].map((value, k) => ({ pose: String(k), value, over: value < -0.2 }))
  return (
    <div className="gauge-legend">
      <SeamGauge oneSided={false} ticks={ticks} present="2" band={[0.15, 1]} label="A gauge" pinned={6} />
      <ul className="plain-list">
        <li>Dashed line: perfect contact. Left of it overlap, right of it gap.</li>
        <li>Green band: what the limits allow.</li>
        <li>Ticks: one a pose; red beyond the limit; the broad one is this pose.</li>
        <li>Plum diamond: the pinned revision in this pose.</li>
        <li>A part that follows bones, or hair that rides on skin, has one side: how far it has gone from its place.</li>
      </ul>
    </div>
  )
}
