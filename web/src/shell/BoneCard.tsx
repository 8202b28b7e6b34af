import { Button } from 'antd'
import type { CharacterOut } from '../api/client'
import { boneToRest, useBench } from '../state/bench'
import { NumberField } from '../ui/NumberField'
import { RestedSlider } from '../ui/RestedSlider'
import { channelsOf } from '../stage/tools/handle'

/** The picked bone's own control: a slider for each way it turns and moves. */
export function BoneCard({ character }: { character: CharacterOut }) {
  const name = useBench((s) => s.bone)
  const values = useBench((s) => s.values)
  const drag = useBench((s) => s.drag)
  const set = useBench((s) => s.set)
  const bone = character.bones.find((b) => b.name === name)
  if (!bone) return null
  const channels = channelsOf(bone)
  const away = channels.some((c) => values[c.name])
  return (
    <section className="card bone-card" aria-label={`Own control of ${bone.label}`}>
      <header>
        <h3>{bone.label}</h3>
        <span>
          <Button size="small" type="text" disabled={!away} title="Back to rest (H)" onClick={() => boneToRest(bone.name)}>
            To rest
          </Button>
          <Button size="small" type="text" aria-label="Leave this bone" onClick={() => set({ bone: null, movingEnds: false })}>
            ✕
          </Button>
        </span>
      </header>
      {!channels.length && <p className="quiet">Its limits hold it still.</p>}
      {channels.map((c) => {
        const label = `${c.kind === 'turn' ? 'Turn' : 'Move'} ${c.axis}`
        const unit = c.kind === 'turn' ? '°' : 'mm'
        const scale = c.kind === 'turn' ? 1 : 10 // lengths are millimetres on screen
        const value = (values[c.name] ?? 0) * scale
        const change = (v: number) => drag(c.name, v / scale)
        return (
          <div className="control-row" key={c.name}>
            <label htmlFor={`own-${c.name}`} title="Double click: back to rest" onDoubleClick={() => change(0)}>
              <span className={`axis-letter axis-${c.axis}`}>{c.kind === 'turn' ? '↻' : '→'}</span> {label}
            </label>
            <RestedSlider ariaLabelForHandle={`${bone.label} ${label}`} rest={0} min={c.low * scale} max={c.high * scale} step={0.1} value={value} onChange={change} />
            <NumberField id={`own-${c.name}`} label={`${bone.label} ${label}`} value={value} low={c.low * scale} high={c.high * scale} unit={unit} onChange={change} />
          </div>
        )
      })}
    </section>
  )
}
