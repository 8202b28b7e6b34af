import { useQuery } from '@tanstack/react-query'
import { fetchPull, type CharacterOut, type PullRow } from '../api/client'
import { shownValues, useBench } from '../state/bench'
import { mm, partLabel, percent } from '../ui/names'

const SIGNS = { bone: '●', shape: '◆', relief: '◠', total: '!' } as const

/** What moves the picked vertex in this pose, and what holds it back where its part should be carried. */
export function PullList({ character }: { character: CharacterOut }) {
  const pick = useBench((s) => s.pick)
  const values = useBench(shownValues)
  const set = useBench((s) => s.set)
  const revision = character.revision.number
  const { data, error } = useQuery({
    queryKey: ['pull', character.id, revision, pick, values],
    queryFn: () => fetchPull(character.id, revision, pick!.part, pick!.vertex, values),
    enabled: pick !== null,
    placeholderData: (before) => (before?.part === pick?.part && before?.vertex === pick?.vertex ? before : undefined),
    retry: false,
  })
  if (!pick)
    return (
      <>
        <h3>What moves it here</h3>
        <p className="quiet">Click a vertex on the stage: every bone, shape and relief that moves it is listed, in mm.</p>
      </>
    )
  // a pick is a question: bring its answer into sight
  const bringIntoSight = (section: HTMLElement | null) => section?.scrollIntoView({ block: 'nearest' })
  const show = (bone: string) => set({ weightBone: bone, display: { ...useBench.getState().display, weights: true } })
  return (
    <section aria-label="Pull list" key={`${pick.part} ${pick.vertex} ${data ? 1 : 0}`} ref={bringIntoSight}>
      <h3>
        What moves it here{' '}
        <span className="quiet num" style={{ fontWeight: 400 }}>
          {partLabel(pick.part)} {pick.vertex}
        </span>
      </h3>
      {error && <p className="madder">{error.message}</p>}
      {data && (
        <>
          <p className="quiet" style={{ margin: '0 0 4px' }}>
            Moves {mm(data.moved)} as seen from the head · total <span className="num">{data.total.toFixed(3)}</span>
          </p>
          <Rows rows={data.pull} onBone={show} />
          {data.lag && (data.lag_millimetres ?? 0) > 0.05 && (
            <>
              <h3>
                What holds it back <span className="madder num">{mm(data.lag_millimetres ?? 0)} behind</span>
              </h3>
              <Rows rows={data.lag} onBone={show} guilty />
            </>
          )}
        </>
      )}
    </section>
  )
}

function Rows({ rows, onBone, guilty = false }: { rows: PullRow[]; onBone: (bone: string) => void; guilty?: boolean }) {
  const longest = Math.max(1e-6, ...rows.map((r) => r.millimetres))
  return (
    <div>
      {rows.map((r) => (
        <div className="pull-row" key={`${r.kind} ${r.name}`}>
          <span className={guilty && r.millimetres > 0.05 ? 'madder' : 'quiet'}>{SIGNS[r.kind]}</span>
          {r.kind === 'bone' ? (
            <button className="bare" title="Show its weights on the stage" onClick={() => onBone(r.name)}>
              {r.label} <span className="num quiet">{percent(r.weight ?? 0)}</span>
            </button>
          ) : (
            <span>{r.label}</span>
          )}
          <svg width="74" height="6" aria-hidden>
            <rect width={(r.millimetres / longest) * 74} height="6" rx="3" fill={guilty ? 'var(--madder)' : 'var(--spruce)'} />
          </svg>
          <span className="num">{mm(r.millimetres)}</span>
        </div>
      ))}
      {!rows.length && <p className="quiet">Nothing moves it in this pose.</p>}
    </div>
  )
}
