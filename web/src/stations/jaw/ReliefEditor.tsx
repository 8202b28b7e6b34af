import { Button, Checkbox, Input, Select } from 'antd'
import { useEffect, useState } from 'react'
import type { CharacterOut, CurveKey, Relief } from '../../api/client'
import { useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { counted } from '../../ui/names'
import { NumberField } from '../../ui/NumberField'
import { BrushTools } from '../BrushTools'
import { DrivenBy } from './DrivenBy'
import { JawShare } from './JawShare'

const JAW_LINE = ['jaw_hinge_R', 'jaw_angle_R', 'chin_under', 'jaw_angle_L', 'jaw_hinge_L']
const LEVEL: CurveKey[] = [-1, 0, 1].map((at) => ({ at, value: 1, slope: null }))
const WAYS: Record<string, [number, number, number]> = { up: [0, 1, 0], down: [0, -1, 0], forward: [0, 0, 1], back: [0, 0, -1], 'to the left': [1, 0, 0], 'to the right': [-1, 0, 0] }

const wayOf = (way: Relief['way']) => Object.keys(WAYS).find((k) => WAYS[k]!.every((c, j) => Math.abs(c - (way?.[j] ?? 0)) < 1e-6)) ?? 'up'

interface Props {
  character: CharacterOut
  relief: Relief
  edit: ReturnType<typeof useEdit>
}

/** One relief: its direction, what drives it along which curve, its profile along a line, and where it lies. */
export function ReliefEditor({ character, relief: r, edit }: Props) {
  const [label, setLabel] = useState(r.label)
  const [region, setRegion] = useState(false)
  const mirror = useBench((s) => s.mirror)
  const set = useBench((s) => s.set)
  const selection = useBench((s) => s.selection)
  const painting = useBench((s) => s.painting)
  const lasso = useBench((s) => s.lasso)
  useEffect(() => {
    set({ shownMap: region ? { relief: r.name } : null })
    return () => set({ shownMap: null, painting: false, lasso: false })
  }, [set, region, r.name])
  const give = (params: object) => edit.mutate({ edit: 'relief.set', params: { name: r.name, mirror, ...params } })
  const picked = selection?.part === r.part ? selection.vertices : null
  const targets = mirror && r.twin ? [r.name, r.twin] : [r.name]
  return (
    <section aria-label={`Relief ${r.label}`} className="relief-editor">
      <div className="row">
        <Input size="small" aria-label="Name of the relief" value={label} maxLength={60} onChange={(e) => setLabel(e.target.value)} onKeyDown={(e) => e.stopPropagation()} onPressEnter={() => give({ label, mirror: false })} onBlur={() => label.trim() && label !== r.label && give({ label, mirror: false })} />
        {r.twin && (
          <Checkbox checked={mirror} onChange={(e) => set({ mirror: e.target.checked })}>
            Both sides
          </Checkbox>
        )}
      </div>
      <div className="row">
        <span>Goes</span>
        <button className="chip" aria-pressed={r.direction === 'out' && r.cm >= 0} onClick={() => give({ direction: 'out', cm: Math.abs(r.cm) })}>
          out
        </button>
        <button className="chip" aria-pressed={r.direction === 'out' && r.cm < 0} onClick={() => give({ direction: 'out', cm: -Math.abs(r.cm) })}>
          in
        </button>
        <button className="chip" aria-pressed={r.direction === 'along'} onClick={() => give({ direction: 'along', way: WAYS.up })}>
          along the surface
        </button>
        {r.direction === 'along' && <Select size="small" aria-label="Which way along the surface" value={wayOf(r.way)} onChange={(k) => give({ way: WAYS[k] })} options={Object.keys(WAYS).map((k) => ({ value: k, label: k }))} />}
      </div>
      <DrivenBy character={character} label={r.label} kind="relief" targets={targets} driven={r.driven} edit={edit} range={[0, 1.2]} />
      <div className="row">
        <span>Share</span>
        <button className="chip" aria-pressed={r.lined} onClick={() => (r.lined ? give({ line: [] }) : give({ line: JAW_LINE, profile: LEVEL }))}>
          along the jaw
        </button>
      </div>
      {r.lined && <JawShare relief={r} onSet={(profile) => give({ profile })} />}
      <div className="row">
        <span>Region</span>
        <span className="quiet num">{counted(r.count, 'vertex', 'vertices')}</span>
        <button className="chip" aria-pressed={region} onClick={() => setRegion(!region)}>
          Show and paint it
        </button>
      </div>
      {region && (
        <>
          <BrushTools says="The surface follows the brush in the pose on the stage." />
          <div className="row">
            <Button size="small" disabled={edit.isPending} onClick={() => edit.mutate({ edit: 'relief.smooth_region', params: { name: r.name, steps: 3, vertices: picked } })}>
              {picked ? 'Smooth the selection' : 'Smooth'}
            </Button>
            {!painting && (
              <button className="chip" aria-pressed={lasso} onClick={() => set({ lasso: !lasso })}>
                Lasso
              </button>
            )}
            {picked && (
              <label>
                <span>Set it to</span>
                <NumberField label="Region of the selection" value={100} low={0} high={100} unit="%" onChange={(v) => edit.mutate({ edit: 'relief.set_region', params: { name: r.name, vertices: picked, value: v / 100 } })} />
              </label>
            )}
          </div>
        </>
      )}
      <div className="row">
        <Button size="small" disabled={edit.isPending} onClick={() => edit.mutate({ edit: 'relief.copy', params: { name: r.name, to: 'copy' } })}>
          Copy
        </Button>
        <Button size="small" disabled={edit.isPending} onClick={() => edit.mutate({ edit: 'relief.copy', params: { name: r.name, to: 'other side' } })}>
          To the other side
        </Button>
        <Button size="small" disabled={edit.isPending || r.muted} title="Becomes a shape that the same controls drive; nothing moves" onClick={() => edit.mutate({ edit: 'relief.bake', params: { name: r.name } })}>
          Bake
        </Button>
        <Button size="small" disabled={edit.isPending} onClick={() => edit.mutate({ edit: 'relief.remove', params: { name: r.name } })}>
          Remove
        </Button>
      </div>
    </section>
  )
}
