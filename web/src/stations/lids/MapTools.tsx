import { Button } from 'antd'
import { useEffect } from 'react'
import type { EyeLids, LidMap, Step } from '../../api/client'
import { useBench } from '../../state/bench'
import { isLidMap } from '../../state/work/weights'
import type { useEdit } from '../../state/edits'
import { NumberField } from '../../ui/NumberField'
import { BrushTools } from '../BrushTools'

const MAPS: { map: LidMap['map']; label: string; says: string }[] = [
  { map: 'share', label: 'Lid share', says: 'How much of the closing each vertex takes: all of it at the margin, none beyond the fold.' },
  { map: 'eye_relief', label: 'Eye relief', says: 'How much each vertex swells over the eyeball and the cornea as it turns.' },
]

const [WIDEST, FINE] = [6, 3] // mm: a brush wider than a lid is made fine

interface Props {
  eye: EyeLids
  edit: ReturnType<typeof useEdit>
}

/** Lid share and eye relief: seen as a ramp, painted, smoothed, set, and made anew from landmarks. */
export function MapTools({ eye, edit }: Props) {
  const shown = useBench((s) => s.shownMap)
  const mirror = useBench((s) => s.mirror)
  const selection = useBench((s) => s.selection)
  const painting = useBench((s) => s.painting)
  const lasso = useBench((s) => s.lasso)
  const set = useBench((s) => s.set)
  const side = eye.side
  const map = shown && isLidMap(shown) ? shown.map : 'share'
  useEffect(() => {
    set({ shownMap: { side, map } })
    return () => set({ shownMap: null, painting: false, lasso: false, selection: null })
  }, [set, side, map])
  useEffect(() => {
    const { brush } = useBench.getState()
    if (brush.radius > WIDEST) set({ brush: { ...brush, radius: FINE } })
  }, [set])
  const picked = selection?.part === eye.skin ? selection.vertices : null
  const run = (step: Step) => edit.mutate(step)
  const of = { side, map, mirror }
  return (
    <div className="map-tools">
      <div className="row">
        {MAPS.map((m) => (
          <button key={m.map} className="chip" aria-pressed={m.map === map} title={m.says} onClick={() => set({ shownMap: { side, map: m.map } })}>
            {m.label}
          </button>
        ))}
      </div>
      <p className="quiet">{MAPS.find((m) => m.map === map)!.says}</p>
      <BrushTools says="The surface follows the brush in the pose on the stage." />
      <div className="repairs" aria-label="Starting points" role="group">
        <Button size="small" disabled={edit.isPending} onClick={() => run({ edit: 'lids.start_map', params: { ...of, how: 'fold' } })}>
          From fold to margin
        </Button>
        <Button size="small" disabled={edit.isPending} onClick={() => run({ edit: 'lids.start_map', params: { ...of, how: 'even' } })}>
          Spread evenly
        </Button>
        <Button size="small" disabled={edit.isPending} onClick={() => run({ edit: 'lids.smooth_map', params: { ...of, steps: 3, vertices: picked } })}>
          {picked ? 'Smooth the selection' : 'Smooth'}
        </Button>
      </div>
      {picked && (
        <div className="row">
          <label>
            <span>Set the selection to</span>
            <NumberField label="Value of the selection" value={100} low={0} high={100} unit="%" onChange={(v) => run({ edit: 'lids.set_map', params: { ...of, vertices: picked, value: v / 100 } })} />
          </label>
          <Button size="small" disabled={edit.isPending} title="As its surroundings ask for" onClick={() => run({ edit: 'lids.mend_map', params: { ...of, vertices: picked } })}>
            Mend
          </Button>
          {picked.length > 1 && (
            <Button size="small" disabled={edit.isPending} title="The closed edge loop through the selection becomes the margins of this eye; its maps are set up anew" onClick={() => run({ edit: 'lids.pick_margins', params: { side, vertices: picked } })}>
              Margins through it
            </Button>
          )}
        </div>
      )}
      {!painting && (
        <div className="row">
          <button className="chip" aria-pressed={lasso} onClick={() => set({ lasso: !lasso })}>
            Lasso
          </button>
          {!picked && <span className="quiet">Or click vertices on the stage, with Shift more: to set, smooth or mend them.</span>}
        </div>
      )}
    </div>
  )
}
