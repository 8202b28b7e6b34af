import { Checkbox, Select } from 'antd'
import { useBench, type BrushState, type BrushTool } from '../state/bench'
import { NumberField } from '../ui/NumberField'

const TOOLS: { tool: BrushTool; label: string; title: string }[] = [
  { tool: 'add', label: 'Add', title: 'More of the bone; with Ctrl held less' },
  { tool: 'take', label: 'Take away', title: 'Less of the bone; with Ctrl held more' },
  { tool: 'set', label: 'Set', title: 'Towards the value' },
  { tool: 'smooth', label: 'Smooth', title: 'Towards the neighbours; held Shift does it with any tool' },
  { tool: 'even', label: 'Even out', title: 'Towards the mean under the brush' },
]

/** Picking or painting; and how the brush paints. `says` is what else there is to know where it paints. */
export function BrushTools({ says }: { says: string }) {
  const painting = useBench((s) => s.painting)
  const brush = useBench((s) => s.brush)
  const selection = useBench((s) => s.selection)
  const set = useBench((s) => s.set)
  const give = (changed: Partial<BrushState>) => set({ brush: { ...brush, ...changed } })
  const field = (key: 'radius' | 'strength' | 'value' | 'most', label: string, unit: string, low: number, high: number) => (
    <label>
      <span>{label}</span>
      <NumberField label={label} value={brush[key]} low={low} high={high} unit={unit} onChange={(v) => give({ [key]: v })} />
    </label>
  )
  return (
    <section aria-label="Brush">
      <div className="skeleton-tools mode" role="radiogroup" aria-label="What the pointer does">
        <button className="chip" role="radio" aria-checked={!painting} aria-pressed={!painting} title="I" onClick={() => set({ painting: false })}>
          Inspect and pick
        </button>
        <button className="chip" role="radio" aria-checked={painting} aria-pressed={painting} title="P" onClick={() => set({ painting: true, lasso: false })}>
          Paint
        </button>
      </div>
      {painting && (
        <>
          <div className="skeleton-tools">
            {TOOLS.map(({ tool, label, title }) => (
              <button key={tool} className="chip" aria-pressed={brush.tool === tool} title={title} onClick={() => give({ tool })}>
                {label}
              </button>
            ))}
          </div>
          <div className="brush-fields">
            {field('radius', 'Radius', 'mm', 0.5, 200)}
            {field('strength', 'Strength', '%', 1, 100)}
            {brush.tool === 'set' && field('value', 'Value', '%', 0, 100)}
            {field('most', 'A stroke at most', '%', 1, 100)}
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
              Through
            </Checkbox>
            <Checkbox checked={brush.onlySelection} disabled={!selection} onChange={(e) => give({ onlySelection: e.target.checked })}>
              Only the selection
            </Checkbox>
          </div>
          <p className="quiet said">
            Measured over the posed surface. Hold Ctrl to take away, Shift to smooth; drag with R held for the size, with T for the strength. {says}
          </p>
        </>
      )}
    </section>
  )
}
