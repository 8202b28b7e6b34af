import { Button, Dropdown } from 'antd'
import { useEffect } from 'react'
import type { CharacterOut, JawSetUp } from '../../api/client'
import { useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { ReliefEditor } from './ReliefEditor'
import { ReliefNeeds } from './ReliefNeeds'
import { ReliefRow } from './ReliefRow'

const RISING = [
  { at: 0.2, value: 0, slope: null },
  { at: 0.8, value: 1, slope: null },
]

interface Props {
  character: CharacterOut
  jaw: JawSetUp
  edit: ReturnType<typeof useEdit>
}

/** Reliefs in their order; the chosen one opens below. */
export function ReliefTools({ character, jaw, edit }: Props) {
  const chosen = useBench((s) => s.relief)
  const selection = useBench((s) => s.selection)
  const mirror = useBench((s) => s.mirror)
  const set = useBench((s) => s.set)
  const relief = jaw.reliefs.find((r) => r.name === chosen) ?? null
  useEffect(() => () => set({ shownMap: null, painting: false, lasso: false }), [set])
  const add = (preset: JawSetUp['presets'][number]['name']) =>
    edit.mutate(
      { edit: 'relief.preset', params: { preset } },
      { onSuccess: () => set({ relief: null }) },
    )
  return (
    <div className="jaw-tools">
      <div className="row">
        <Dropdown trigger={['click']} menu={{ items: jaw.presets.map((p) => ({ key: p.name, label: p.label })), onClick: ({ key }) => add(key as JawSetUp['presets'][number]['name']) }}>
          <Button size="small" type="primary" disabled={edit.isPending}>
            Add a relief ▾
          </Button>
        </Dropdown>
        {selection && (
          <Button
            size="small"
            disabled={edit.isPending}
            title="Softly round the picked vertices, driven by the opening of the jaw"
            onClick={() => edit.mutate({ edit: 'relief.add', params: { label: 'Relief', part: selection.part, vertices: selection.vertices, soft: 1, cm: 0.2, direction: 'out', keys: RISING } })}
          >
            On the selection
          </Button>
        )}
      </div>
      <ReliefNeeds character={character} edit={edit} />
      {jaw.reliefs.length === 0 && <p className="quiet">No reliefs yet. A preset fills or hollows a region as the mouth opens; set its amount, its curve and where it lies.</p>}
      <ul className="reliefs" aria-label="Reliefs">
        {jaw.reliefs.map((r, k) => (
          <ReliefRow key={r.name} relief={r} before={jaw.reliefs[k - 1]?.name ?? null} chosen={r === relief} edit={edit} mirror={mirror} onChoose={() => set({ relief: r === relief ? null : r.name, shownMap: null, painting: false })} />
        ))}
      </ul>
      {relief && <ReliefEditor key={relief.name} character={character} relief={relief} edit={edit} />}
    </div>
  )
}
