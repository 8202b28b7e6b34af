import { Select } from 'antd'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { NumberField } from '../../ui/NumberField'

const STEP = 0.1 // mm by which the outer radius is larger at least

/** The capsule of a bone in mm; its twin gets the same. */
export function EnvelopeRow({ character, edit }: { character: CharacterOut; edit: ReturnType<typeof useEdit> }) {
  const picked = useBench((s) => s.bone)
  const set = useBench((s) => s.set)
  const deforming = character.bones.filter((b) => b.role === 'deform')
  const bone = deforming.find((b) => b.name === picked) ?? deforming.find((b) => b.region === 'jaw') ?? deforming[0]
  if (!bone) return null
  const [inner, outer] = (character.envelopes[character.bones.indexOf(bone)] ?? [0.4, 0.8]) as [number, number]
  const give = (changed: { inner?: number; outer?: number }) => edit.mutate({ edit: 'bone.set_envelope', params: { bone: bone.name, inner, outer, mirror: true, ...changed } })
  return (
    <div className="envelope-row">
      <Select
        size="small"
        aria-label="Envelope of"
        value={bone.name}
        showSearch
        optionFilterProp="label"
        popupMatchSelectWidth={false}
        onChange={(name) => set({ bone: name })}
        options={deforming.map((b) => ({ value: b.name, label: b.label }))}
      />
      <label>
        <span>Full within</span>
        <NumberField label="Full within" value={Math.round(inner * 100) / 10} low={0.1} high={outer * 10 - STEP} unit="mm" onChange={(v) => give({ inner: v / 10 })} />
      </label>
      <label>
        <span>None beyond</span>
        <NumberField label="None beyond" value={Math.round(outer * 100) / 10} low={inner * 10 + STEP} high={1000} unit="mm" onChange={(v) => give({ outer: v / 10 })} />
      </label>
    </div>
  )
}
