import { useEffect, useState } from 'react'
import type { CharacterOut, PullRow } from '../api/client'
import { useBench } from '../state/bench'
import type { Patch } from '../state/work/patch'
import { useEdit } from '../state/edits'
import { useStationFindings } from '../state/findings'
import { useAsked, usePull } from '../state/pull'
import { mm, partLabel, percent } from '../ui/names'

const SIGNS: Record<PullRow['kind'], string> = {
  bone: '●',
  shape: '◆',
  cap: '⊓',
  relief: '◗',
  lids: '◡',
  'eye relief': '◠',
  seal: '≍',
  dual: '↻',
  ride: '≈',
  total: '!',
}

/** What moves the picked vertex or the selection in this pose, and what holds it back where its part should be carried. It comes into sight by itself, unless it `stays`. */
export function PullList({ character, stays }: { character: CharacterOut; stays?: boolean }) {
  const asked = useAsked()
  const set = useBench((s) => s.set)
  const [hovered, setHovered] = useState<string | null>(null)
  const { data, error } = usePull(character, asked)
  const late = (data?.lag_millimetres ?? 0) > 0.05
  // arrows of the row under the pointer; else of the one that does most
  const told = data && [...(late ? (data.lag ?? []) : []), ...data.pull]
  const arrows = asked ? (told?.find((r) => r.name === hovered) ?? told?.[0])?.arrows : undefined
  useEffect(() => set({ arrows: arrows ?? [] }), [arrows, set])
  useEffect(() => () => set({ arrows: [] }), [set])
  if (!asked)
    return (
      <>
        <h3>What moves it here</h3>
        <p className="quiet">Click a vertex on the stage: every bone, shape and relief that moves it is listed, in mm.</p>
      </>
    )
  const several = asked.vertices.length > 1
  // a pick is a question: bring its answer into sight
  const bringIntoSight = (section: HTMLElement | null) => {
    if (!stays) void section?.scrollIntoView({ block: 'nearest' })
  }
  const rows = (list: PullRow[], guilty = false) => <Rows rows={list} asked={asked} character={character} guilty={guilty} onHover={setHovered} />
  return (
    <section aria-label="Pull list" key={`${asked.part} ${several ? 'several' : asked.vertices[0]} ${data ? 1 : 0}`} ref={several ? undefined : bringIntoSight}>
      <h3>
        What moves {several ? 'them' : 'it'} here{' '}
        <span className="quiet num" style={{ fontWeight: 400 }}>
          {partLabel(asked.part)} {several ? `mean of ${asked.vertices.length.toLocaleString('en-GB')}` : asked.vertices[0]}
        </span>
      </h3>
      {error && <p className="madder">{error.message}</p>}
      {data && (
        <>
          <p className="quiet" style={{ margin: '0 0 4px' }}>
            {several ? 'Move' : 'Moves'} {mm(data.moved)} as seen from the head · total <span className="num">{data.total.toFixed(3)}</span>
          </p>
          {rows(data.pull)}
          {late && data.lag && (
            <>
              <h3>
                What holds {several ? 'them' : 'it'} back <span className="madder num">{mm(data.lag_millimetres ?? 0)} behind</span>
              </h3>
              {rows(data.lag, true)}
            </>
          )}
        </>
      )}
    </section>
  )
}

interface RowsProps {
  rows: PullRow[]
  asked: Patch
  character: CharacterOut
  guilty: boolean
  onHover: (name: string | null) => void
}

function Rows({ rows, asked, character, guilty, onHover }: RowsProps) {
  const set = useBench((s) => s.set)
  const locked = useBench((s) => s.locked)
  const mirror = useBench((s) => s.mirror)
  const edit = useEdit(character)
  const { data: findings } = useStationFindings(character, 'weights')
  const longest = Math.max(1e-6, ...rows.map((r) => r.millimetres))
  const chosen = new Set(asked.vertices)
  const strays = new Set((findings ?? []).filter((f) => f.kind === 'stray' && f.part === asked.part && f.vertices?.some((v) => chosen.has(v))).map((f) => f.about))
  const show = (bone: string) => set({ weightBone: bone, display: { ...useBench.getState().display, weights: true } })
  const takeOut = (bone: string) =>
    edit.mutate({ edit: 'weights.set', params: { ...asked, bone, value: 0, locked, mirror, keep_total: true } })
  return (
    <div onPointerLeave={() => onHover(null)}>
      {rows.map((r) => (
        <div className="pull-row" key={`${r.kind} ${r.name}`} onPointerEnter={() => onHover(r.name)}>
          <span className={guilty && r.millimetres > 0.05 ? 'madder' : 'quiet'}>{SIGNS[r.kind]}</span>
          {r.kind === 'bone' ? (
            <button className="bare" title="Show its weights on the stage" onClick={() => show(r.name)}>
              {r.label} <span className="num quiet">{percent(r.weight ?? 0)}</span>
              {strays.has(r.name) && <span className="stray-sign"> strays</span>}
            </button>
          ) : (
            <span>{r.label}</span>
          )}
          {r.kind === 'bone' && r.name !== 'nothing' && rows.length > 1 && (r.weight ?? 0) > 0 ? (
            <button className="bare take-out" title={`Take ${r.label} out here; the others share what it had`} aria-label={`Take ${r.label} out here`} onClick={() => takeOut(r.name)}>
              ✂
            </button>
          ) : (
            <span />
          )}
          <svg width="58" height="6" aria-hidden>
            <rect width={(r.millimetres / longest) * 58} height="6" rx="3" fill={guilty ? 'var(--madder)' : 'var(--spruce)'} />
          </svg>
          <span className="num">{mm(r.millimetres)}</span>
        </div>
      ))}
      {!rows.length && <p className="quiet">Nothing moves it in this pose.</p>}
    </div>
  )
}
