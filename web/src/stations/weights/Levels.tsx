import { Button } from 'antd'
import { useState } from 'react'
import { NumberField } from '../../ui/NumberField'

const PLAIN = { low: 0, high: 1, gamma: 1, to_low: 0, to_high: 1 }
type LevelValues = typeof PLAIN
const WIDTH = 84
const HEIGHT = 44

/** The curve of the remapping, from 0 to 1 across and up. */
function curve({ low, high, gamma, to_low, to_high }: LevelValues): string {
  const points = Array.from({ length: 25 }, (_, k) => {
    const x = k / 24
    const t = Math.min(1, Math.max(0, (x - low) / Math.max(high - low, 1e-6))) ** (1 / gamma)
    return `${(x * WIDTH).toFixed(1)},${((1 - (to_low + (to_high - to_low) * t)) * HEIGHT).toFixed(1)}`
  })
  return `M${points.join('L')}`
}

/** Stretches the chosen bone's weights from one range to another, the middle lifted or lowered by gamma. */
export function Levels({ off, onGive }: { off: boolean; onGive: (levels: LevelValues) => void }) {
  const [open, setOpen] = useState(false)
  const [levels, setLevels] = useState(PLAIN)
  const percents = (key: 'low' | 'high' | 'to_low' | 'to_high', label: string) => (
    <label>
      <span>{label}</span>
      <NumberField label={label} value={levels[key] * 100} low={0} high={100} unit="%" onChange={(v) => setLevels({ ...levels, [key]: v / 100 })} />
    </label>
  )
  return (
    <>
      <button className="bare fold" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? '▾' : '▸'} Remap
      </button>
      {open && (
        <div className="levels" aria-label="Remap">
          <svg width={WIDTH} height={HEIGHT} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden>
            <path d={`M0,${HEIGHT}L${WIDTH},0`} stroke="var(--line)" fill="none" />
            <path d={curve(levels)} stroke="var(--spruce)" strokeWidth={2} fill="none" />
          </svg>
          <div className="brush-fields">
            {percents('low', 'In from')}
            {percents('high', 'In to')}
            <label>
              <span>Gamma</span>
              <NumberField label="Gamma" value={levels.gamma} low={0.05} high={20} unit="" onChange={(v) => setLevels({ ...levels, gamma: v })} />
            </label>
            {percents('to_low', 'Out from')}
            {percents('to_high', 'Out to')}
            <span className="row" style={{ alignItems: 'end' }}>
              <Button size="small" disabled={off} onClick={() => onGive(levels)}>
                Remap
              </Button>
            </span>
          </div>
        </div>
      )}
    </>
  )
}
