import { Button, Checkbox } from 'antd'
import type { CharacterOut } from '../api/client'
import { partLabel } from '../ui/names'
import { useBench } from '../state/bench'

/** Which parts are on the stage: shown, hidden, or one alone. */
export function PartsList({ character }: { character: CharacterOut }) {
  const hidden = useBench((s) => s.hidden)
  const isolated = useBench((s) => s.isolated)
  const set = useBench((s) => s.set)
  const flip = (name: string) => {
    const next = new Set(hidden)
    if (!next.delete(name)) next.add(name)
    set({ hidden: next, isolated: null })
  }
  return (
    <section className="parts-list" aria-label="Parts">
      <ul>
        {character.parts.map((p) => (
          <li key={p.name}>
            <Checkbox checked={isolated ? isolated === p.name : !hidden.has(p.name)} onChange={() => flip(p.name)}>
              {partLabel(p.name)}
            </Checkbox>
            <Button
              size="small"
              type={isolated === p.name ? 'primary' : 'text'}
              style={{ marginLeft: 'auto' }}
              onClick={() => set({ isolated: isolated === p.name ? null : p.name })}
            >
              Alone
            </Button>
          </li>
        ))}
      </ul>
      <Button size="small" block style={{ marginTop: 6 }} onClick={() => set({ hidden: new Set(), isolated: null })}>
        Show all
      </Button>
    </section>
  )
}
