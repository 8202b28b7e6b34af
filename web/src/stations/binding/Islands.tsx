import { useQuery } from '@tanstack/react-query'
import { fetchIslands, type CharacterOut, type PartOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { percent } from '../../ui/names'

const FEW = 14 // islands that are listed

/** What carries each island of a part; a click selects it. */
export function Islands({ character, part }: { character: CharacterOut; part: PartOut }) {
  const revision = character.revision.number
  const set = useBench((s) => s.set)
  const { data } = useQuery({
    queryKey: ['islands', character.id, revision, part.name],
    queryFn: () => fetchIslands(character.id, revision, part.name),
    placeholderData: (before) => before,
    retry: false,
  })
  if (!data || data.length < 2) return null
  const label = (bone: string) => character.bones.find((b) => b.name === bone)?.label ?? bone
  return (
    <section aria-label="Islands">
      <h3>
        {data.length} islands <span className="quiet">click selects</span>
      </h3>
      {data.slice(0, FEW).map((island) => (
        <button key={island.vertices[0]} className="bare island-row" onClick={() => set({ selection: { part: part.name, vertices: island.vertices } })}>
          <span className="num quiet">{island.vertices.length}</span>
          <span>{island.bones.slice(0, 3).map((b) => `${label(b.bone)} ${percent(b.mean)}`).join(', ') || 'nothing'}</span>
        </button>
      ))}
      {data.length > FEW && <p className="quiet said">and {data.length - FEW} smaller ones</p>}
    </section>
  )
}
