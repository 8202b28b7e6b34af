import { Checkbox, Select } from 'antd'
import { useBench } from '../state/bench'
import type { BrushState } from '../state/work/weights'
import { NumberField } from '../ui/NumberField'

/** Picking, or working with the brush. */
export function PointerMode({ verb }: { verb: string }) {
  const painting = useBench((s) => s.painting)
  const set = useBench((s) => s.set)
  return (
    <div className="skeleton-tools mode" role="radiogroup" aria-label="What the pointer does">
      <button className="chip" role="radio" aria-checked={!painting} title="I" onClick={() => set({ painting: false })}>
        Pick
      </button>
      <button className="chip" role="radio" aria-checked={painting} title="P" onClick={() => set({ painting: true, lasso: false })}>
        {verb}
      </button>
    </div>
  )
}

const FIELDS = {
  radius: { label: 'Radius', unit: 'mm', low: 0.5, high: 200 },
  strength: { label: 'Strength', unit: '%', low: 1, high: 100 },
  value: { label: 'Value', unit: '%', low: 0, high: 100 },
  most: { label: 'Limit per stroke', unit: '%', low: 1, high: 100 },
} as const

/** What the brush is like, in numbers, and what it may reach. */
export function BrushFields({ shown }: { shown: (keyof typeof FIELDS)[] }) {
  const brush = useBench((s) => s.brush)
  const selection = useBench((s) => s.selection)
  const set = useBench((s) => s.set)
  const give = (changed: Partial<BrushState>) => set({ brush: { ...brush, ...changed } })
  return (
    <>
      <div className="brush-fields">
        {shown.map((key) => (
          <label key={key}>
            <span>{FIELDS[key].label}</span>
            <NumberField {...FIELDS[key]} value={brush[key]} onChange={(v) => give({ [key]: v })} />
          </label>
        ))}
        <label>
          <span>Falloff</span>
          <Select
            size="small"
            aria-label="Falloff"
            value={brush.falloff}
            onChange={(falloff) => give({ falloff })}
            options={[
              { value: 'soft', label: 'Soft' },
              { value: 'linear', label: 'Straight' },
              { value: 'hard', label: 'Hard' },
            ]}
          />
        </label>
      </div>
      <div className="row bone-shows">
        <Checkbox checked={brush.through} onChange={(e) => give({ through: e.target.checked })}>
          Reach through
        </Checkbox>
        <Checkbox checked={brush.onlySelection} disabled={!selection} onChange={(e) => give({ onlySelection: e.target.checked })}>
          Only the selection
        </Checkbox>
      </div>
    </>
  )
}
