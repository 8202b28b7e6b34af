import { useQuery } from '@tanstack/react-query'
import { Input } from 'antd'
import { useState } from 'react'
import { fetchSelection, type CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { useAsked, usePull } from '../../state/pull'
import { mm, partLabel, percent } from '../../ui/names'

const FEW = 6 // bones without weight here that are listed before anything is searched for
const MANY = 9 // bones with weight that are listed before more are asked for

/** The bones by how much they carry of the selection; the chosen one is edited and drawn, a locked one keeps its weights. */
export function SelectionBones({ character }: { character: CharacterOut }) {
  const selection = useBench((s) => s.selection)
  const chosen = useBench((s) => s.weightBone)
  const locked = useBench((s) => s.locked)
  const set = useBench((s) => s.set)
  const [search, setSearch] = useState('')
  const [more, setMore] = useState(false)
  const [by, setBy] = useState<'weight' | 'pull'>('weight')
  const asked = useAsked()
  const worked = useBench((s) => s.selection?.part ?? s.selectedPart) ?? character.parts.find((p) => p.kind === 'skin')?.name
  const revision = character.revision.number
  const { data } = useQuery({
    queryKey: ['selection', character.id, revision, selection],
    queryFn: () => fetchSelection(character.id, revision, selection!.part, selection!.vertices),
    enabled: selection !== null,
    placeholderData: (before) => (selection ? before : undefined),
    retry: false,
  })
  const part = character.parts.find((p) => p.name === worked)
  // where nothing is selected, what carries the part as a whole
  const shares = new Map(selection ? data?.bones.map((b) => [b.bone, b.mean]) : part?.influences.map((i) => [i.bone, i.share]))
  const wanted = search.trim().toLowerCase()
  const pull = usePull(character, by === 'pull' ? asked : null).data
  const pulls = new Map(pull?.pull.filter((r) => r.kind === 'bone').map((r) => [r.name, r.millimetres]))
  const byPull = by === 'pull' && pull !== undefined
  const here = (name: string) => (byPull ? pulls.get(name) : shares.get(name)) ?? 0
  const found = character.bones
    .filter((b) => b.role === 'deform' && (!wanted || b.label.toLowerCase().includes(wanted) || b.name.toLowerCase().includes(wanted)))
    .sort((a, b) => here(b.name) - here(a.name))
  const idle = found.filter((b) => !shares.has(b.name))
  const listed = wanted ? found : [...found.filter((b) => shares.has(b.name)), ...idle.slice(0, shares.size ? 0 : FEW), ...idle.filter((b) => b.name === chosen)]
  const all = [...new Set(listed)]
  const rows = wanted || more ? all : all.filter((b, k) => k < MANY || b.name === chosen)
  return (
    <section aria-label="Bones of the selection">
      <h3>
        What carries {selection || !part ? 'it' : partLabel(part.name)}
        {data && data.off > 0 && <span className="madder num"> {data.off} totals not 1</span>}
        {data && data.many > 0 && <span className="attention num"> {data.many} with over 4 bones</span>}
      </h3>
      {asked && (
        <div className="skeleton-tools" role="radiogroup" aria-label="Bones by">
          {(['weight', 'pull'] as const).map((way) => (
            <button key={way} className="chip" role="radio" aria-checked={by === way} onClick={() => setBy(way)}>
              {way === 'weight' ? 'By weight' : 'By pull in this pose'}
            </button>
          ))}
        </div>
      )}
      {rows.map((b) => {
        const share = shares.get(b.name)
        const held = locked.includes(b.name)
        return (
          <div className={`weight-row ${b.name === chosen ? 'open' : ''}`} key={b.name}>
            <button
              className="bare lock"
              aria-pressed={held}
              aria-label={`Lock ${b.label}`}
              title={held ? 'Locked: its weights stay' : 'Lock its weights'}
              onClick={() => set({ locked: held ? locked.filter((n) => n !== b.name) : [...locked, b.name] })}
            >
              {held ? '▣' : '▢'}
            </button>
            <button className="bare" aria-pressed={b.name === chosen} onClick={() => set({ weightBone: b.name })}>
              {b.label}
            </button>
            <span className="weight-bar">
              <span style={{ width: `${(byPull ? here(b.name) / Math.max(1e-6, ...pulls.values()) : (share ?? 0)) * 100}%` }} />
            </span>
            <span className="num">{byPull ? mm(here(b.name)) : share ? percent(share) : ''}</span>
          </div>
        )
      })}
      {all.length > rows.length && (
        <button className="bare link" onClick={() => setMore(true)}>
          {all.length - rows.length} more
        </button>
      )}
      <Input size="small" aria-label="Search bones" placeholder="Search bones" value={search} onChange={(e) => setSearch(e.target.value)} allowClear />
    </section>
  )
}
