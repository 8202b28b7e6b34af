import { Button } from 'antd'
import { useState } from 'react'
import type { CharacterOut, JawSetUp, Schemas } from '../../api/client'
import { useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { useBaked } from '../../state/jaw'
import { mm } from '../../ui/names'
import { NumberField } from '../../ui/NumberField'
import { DrivenBy } from './DrivenBy'
import { ResponseEditor } from '../../ui/curve/ResponseEditor'

const ZIP_SAYS = { at: { label: 'Key at', name: 'Place of the key from corner to middle', unit: '%', times: 100 }, value: { label: 'Seals at', name: 'Value of the control at which it seals', unit: '%', times: 100 } }
const TARGETS = [
  { target: 'seal', label: 'Lip seal', range: [0, 1.2] },
  { target: 'corner', label: 'Mouth corner', range: [-1, 1] },
] as const

interface Props {
  character: CharacterOut
  jaw: JawSetUp
  edit: ReturnType<typeof useEdit>
}

/** How lips seal from the corners inwards, how far the corners follow the jaw, and what drives both. */
export function LipTools({ character, jaw, edit }: Props) {
  const [what, setWhat] = useState<(typeof TARGETS)[number]>(TARGETS[0])
  const [side, setSide] = useState<'L' | 'R'>('L')
  const mirror = useBench((s) => s.mirror)
  const set = useBench((s) => s.set)
  const lips = jaw.lips
  if (!lips)
    return (
      <p>
        The lips are not set up.{' '}
        <Button size="small" type="primary" disabled={edit.isPending} onClick={() => edit.mutate({ edit: 'lips.start', params: {} })}>
          Find them from landmarks
        </Button>
      </p>
    )
  const give = (params: Schemas['SetLips']) => edit.mutate({ edit: 'lips.set', params })
  const field = (label: string, value: number, high: number, unit: string, title: string, take: (v: number) => void) => (
    <label title={title}>
      <span>{label}</span>
      <NumberField label={label} value={Math.round(value * 100) / 100} low={unit === '%' && label === 'Softness' ? 1 : 0} high={high} unit={unit} onChange={take} />
    </label>
  )
  const name = `${what.target}_${side}`
  return (
    <div className="jaw-tools">
      <div className="fields">
        {field('Towards the jaw', lips.balance * 100, 100, '%', 'What carries sealed lips: 0 % the head, 100 % the jaw', (v) => give({ balance: v / 100 }))}
        {field('Ahead of teeth', lips.ahead * 100, 200, '%', 'How much of the way that the jaw swings back sealed lips stay in front', (v) => give({ ahead: v / 100 }))}
        {field('Stick until', lips.stick * 10, 20, 'mm', 'Lips hold together by themselves until the jaw has parted them by this', (v) => give({ stick: v / 10 }))}
        {field('Softness', lips.soft * 100, 100, '%', 'How much further the control goes until a place is closed', (v) => give({ soft: v / 100 }))}
      </div>
      <h3>Seal from corner to middle</h3>
      <ResponseEditor label="When each place of the lips seals" curve={lips.zip} at={[0, 1]} ends={['corner', 'middle']} value={[0, 1]} says={ZIP_SAYS} endsStay onSet={(zip) => give({ zip })} />
      <div className="row">
        {TARGETS.map((t) => (
          <button key={t.target} className="chip" aria-pressed={t === what} onClick={() => setWhat(t)}>
            {t.label}
          </button>
        ))}
        {(['L', 'R'] as const).map((s) => (
          <button key={s} className="chip" aria-pressed={s === side} aria-label={`Side ${s}`} onClick={() => setSide(s)}>
            {s}
          </button>
        ))}
        <button className="chip" aria-pressed={mirror} title="M" onClick={() => set({ mirror: !mirror })}>
          Both sides
        </button>
      </div>
      <DrivenBy key={name} character={character} label={`${what.label} ${side}`} kind={what.target} targets={targetsOf(what.target, side, mirror)} driven={lips.driven[name] ?? []} edit={edit} range={[...what.range]} />
      <Baked character={character} edit={edit} />
      <Button size="small" disabled={edit.isPending} title="For a new mesh, or after landmarks were moved; how they seal is kept" onClick={() => edit.mutate({ edit: 'lips.start', params: {} })}>
        Find them again
      </Button>
    </div>
  )
}

/** Both sides are driven alike by a control that is of no side. */
const targetsOf = (target: string, side: 'L' | 'R', mirror: boolean) => (mirror ? [`${target}_${side}`, `${target}_${side === 'L' ? 'R' : 'L'}`] : [`${target}_${side}`])

/** What shapes in place of reliefs and seal would be off by, and the seal turned into them. */
function Baked({ character, edit }: { character: CharacterOut; edit: ReturnType<typeof useEdit> }) {
  const { data } = useBaked(character)
  return (
    <section aria-label="As shapes">
      <h3>As shapes</h3>
      {!data && <p className="quiet">Measuring what shapes would be off by …</p>}
      <ul className="legend">
        {data?.map((e) => (
          <li key={e.what}>
            <span>
              {e.what} <b className="num">{e.worst < 0.005 ? 'exact' : `off by ${mm(e.worst)}`}</b>
              {e.worst >= 0.005 && <span className="quiet"> at {e.pose}</span>}
            </span>
          </li>
        ))}
      </ul>
      <Button size="small" disabled={edit.isPending} title="One for each control that seals or pulls, as it is with the jaw wide open" onClick={() => edit.mutate({ edit: 'lips.bake', params: {} })}>
        Bake the seal
      </Button>
    </section>
  )
}
