import { Select } from 'antd'
import { useState } from 'react'
import type { CharacterOut, CurveKey, Driven } from '../../api/client'
import type { useEdit } from '../../state/edits'
import { ResponseEditor } from '../../ui/curve/ResponseEditor'

const SAYS = { at: { label: 'Key at', name: 'Value of the control at the key', unit: '', times: 1 }, value: { label: 'Strength', name: 'Strength at the key', unit: '%', times: 100 } }

interface Props {
  character: CharacterOut
  /** What is driven, in words, and as links call it: first what is shown, then what goes along where a control is of no side. */
  label: string
  kind: 'relief' | 'seal' | 'corner'
  targets: string[]
  driven: Driven[]
  edit: ReturnType<typeof useEdit>
  range: [number, number]
}

/** The controls that drive something, and the response curve of one of them. */
export function DrivenBy({ character, label, kind, targets, driven, edit, range }: Props) {
  const [chosen, setChosen] = useState<string | null>(null)
  const shown = driven.find((d) => d.control === chosen) ?? driven[0]
  const name = chosen ?? shown?.control ?? character.controls[0]?.name
  const control = character.controls.find((c) => c.name === name)
  if (!control) return <p className="quiet">There is no control that could drive it.</p>
  const sided = /_[LR]$/.test(control.name)
  const own = sided ? targets.slice(0, 1) : targets
  const set = (keys: CurveKey[]) => edit.mutate({ edit: 'control.link', params: { control: control.name, kind, targets: own, by: 'turn', gain: keys.length ? 1 : 0, keys } })
  const link = driven.find((d) => d.control === name)
  const straight: CurveKey[] = [
    { at: control.low, value: (link?.gain ?? 0) * control.low, slope: null },
    { at: control.high, value: (link?.gain ?? 1) * control.high, slope: null },
  ]
  return (
    <>
      <div className="row">
        <span>Driven by</span>
        <Select
          size="small"
          aria-label={`Control that drives ${label}`}
          style={{ flex: 1, minWidth: 0 }}
          value={name}
          onChange={setChosen}
          options={character.controls.map((c) => ({ value: c.name, label: driven.some((d) => d.control === c.name) ? `● ${c.label}` : c.label }))}
        />
        {link ? (
          <button className="chip" disabled={edit.isPending} title={`${control.label} no longer drives it`} onClick={() => set([])}>
            Unlink
          </button>
        ) : (
          <button className="chip" disabled={edit.isPending} title={`${control.label} drives it as well`} onClick={() => set([{ at: control.rest, value: 0, slope: null }, { at: control.high, value: 1, slope: null }])}>
            Link
          </button>
        )}
      </div>
      {link && (
        <ResponseEditor
          key={`${targets.join()} ${name}`}
          label={`Response of ${label} to ${control.label}`}
          curve={link.curve.keys.length ? link.curve : { keys: straight, path: straight.map((k) => [k.at, k.value]) }}
          at={[control.low, control.high]}
          ends={[`${control.label} ${control.low}`, `${control.high}`]}
          value={range}
          says={SAYS}
          onSet={set}
        />
      )}
    </>
  )
}
