import { useBench } from '../state/bench'
import type { BrushTool } from '../state/work/weights'
import { BrushFields, PointerMode } from './BrushFields'

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
  const set = useBench((s) => s.set)
  return (
    <section aria-label="Brush">
      <PointerMode verb="Paint" />
      {painting && (
        <>
          <div className="skeleton-tools">
            {TOOLS.map(({ tool, label, title }) => (
              <button key={tool} className="chip" aria-pressed={brush.tool === tool} title={title} onClick={() => set({ brush: { ...brush, tool } })}>
                {label}
              </button>
            ))}
          </div>
          <BrushFields shown={brush.tool === 'set' ? ['radius', 'strength', 'value', 'most'] : ['radius', 'strength', 'most']} />
          <p className="quiet said">
            Measured over the posed surface. Hold Ctrl to take away, Shift to smooth; drag with R held for the size, with T for the strength. {says}
          </p>
        </>
      )}
    </section>
  )
}
