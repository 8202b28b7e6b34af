import { Checkbox } from 'antd'
import { useMemo, useState } from 'react'
import type { CurveKey, Relief } from '../../api/client'
import { ResponseEditor } from '../../ui/curve/ResponseEditor'
import { fromTheChin, isEven, onBothSides } from './jawShare'

const SAYS = { at: { label: 'Key at', name: 'Place of the key along the jaw', unit: '%', times: 100 }, value: { label: 'Share', name: 'Share at the key', unit: '%', times: 100 } }

/** How much of a relief there is along the jaw: from the chin out to the ear, both sides alike unless they are taken apart. */
export function JawShare({ relief: r, onSet }: { relief: Relief; onSet: (profile: CurveKey[]) => void }) {
  const [apart, setApart] = useState(!isEven(r.profile.keys))
  const half = useMemo(() => fromTheChin(r.profile), [r.profile])
  const label = `Share of ${r.label} along the jaw`
  return (
    <>
      <Checkbox checked={apart} onChange={(e) => setApart(e.target.checked)}>
        Left and right apart
      </Checkbox>
      {apart ? (
        <ResponseEditor key={`${r.name} both`} label={label} curve={r.profile} at={[-1, 1]} ends={['right ear', 'left ear']} value={[0, 2]} says={SAYS} endsStay onSet={onSet} />
      ) : (
        <ResponseEditor key={`${r.name} half`} label={label} curve={half} at={[0, 1]} ends={['chin', 'ear']} value={[0, 2]} says={SAYS} endsStay onSet={(keys) => onSet(onBothSides(keys))} />
      )}
    </>
  )
}
