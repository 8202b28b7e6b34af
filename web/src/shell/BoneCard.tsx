import { Button } from 'antd'
import type { CharacterOut } from '../api/client'
import { boneToRest, useBench } from '../state/bench'
import { ValueRow } from '../ui/ValueRow'
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
        return (
          <ValueRow
            key={c.name}
            id={`own-${c.name}`}
            label={
              <>
                <span className={`axis-letter axis-${c.axis}`}>{c.kind === 'turn' ? '↻' : '→'}</span> {label}
              </>
            }
            name={`${bone.label} ${label}`}
            value={value}
            low={c.low * scale}
            high={c.high * scale}
            rest={0}
            step={0.1}
            unit={unit}
            onChange={(v) => drag(c.name, v / scale)}
          />
        )
      })}
    </section>
  )
}
