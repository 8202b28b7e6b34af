import { Button } from 'antd'
import type { Relief } from '../../api/client'
import type { useEdit } from '../../state/edits'
import { NumberField } from '../../ui/NumberField'

const MORE = 3 // times as strong while somebody tunes it

interface Props {
  relief: Relief
  /** The relief above it, which it can change places with. */
  before: string | null
  chosen: boolean
  edit: ReturnType<typeof useEdit>
  mirror: boolean
  onChoose: () => void
}

/** One relief of the list: its name, its amount, muted, exaggerated, moved up. */
export function ReliefRow({ relief: r, before, chosen, edit, mirror, onChoose }: Props) {
  const give = (params: object) => edit.mutate({ edit: 'relief.set', params: { name: r.name, mirror, ...params } })
  return (
    <li data-muted={r.muted}>
      <button className="bare name" aria-pressed={chosen} aria-label={`${r.label}, ${chosen ? 'close' : 'open'}`} onClick={onChoose}>
        {chosen ? '▾' : '▸'} {r.label}
      </button>
      <NumberField label={`Amount of ${r.label}`} value={Math.round(r.cm * 1000) / 100} low={-100} high={100} unit="mm" onChange={(v) => give({ cm: v / 10 })} />
      <Button size="small" aria-pressed={r.exaggerate > 1} title={r.exaggerate > 1 ? 'Set it back to what it is meant to be' : `Show it ${MORE} times as strong while you tune it`} onClick={() => give({ exaggerate: r.exaggerate > 1 ? 1 : MORE })}>
        {r.exaggerate > 1 ? `×${r.exaggerate} set back` : `×${MORE}`}
      </Button>
      <Button size="small" aria-pressed={r.muted} title={r.muted ? 'Let it work again' : 'Keep it, but let it do nothing'} onClick={() => give({ muted: !r.muted })}>
        {r.muted ? 'Muted' : 'Mute'}
      </Button>
      {before && (
        <Button size="small" aria-label={`${r.label} up in the list`} title="Up in the list" onClick={() => edit.mutate({ edit: 'relief.move', params: { name: r.name, before } })}>
          ↑
        </Button>
      )}
    </li>
  )
}
