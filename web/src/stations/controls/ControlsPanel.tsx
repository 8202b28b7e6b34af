import { useEffect, useState } from 'react'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { useControls } from '../../state/controls'
import { useEdit } from '../../state/edits'
import { ControlTools } from './ControlTools'
import { FacePlan } from './FacePlan'
import { TakePlayer } from './TakePlayer'

const WORKS = ['plan', 'controls', 'takes'] as const
type Work = (typeof WORKS)[number]
const LABELS: Record<Work, string> = { plan: 'Face plan', controls: 'Links', takes: 'Takes' }

/** What animators take hold of: pads on a plan of the face, what each control drives, and takes that play into them. */
export function ControlsPanel({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const [work, setWork] = useState<Work>('plan')
  const [chosen, setChosen] = useState<string | null>(null)
  const goToPose = useBench((s) => s.goToPose)
  const goTo = useBench((s) => s.goTo)
  const { data, error, isFetching } = useControls(character)
  useEffect(() => {
    const before = useBench.getState().controlsOpen
    useBench.getState().flyTo('front')
    useBench.getState().set({ controlsOpen: false }) // the plan is here
    return () => useBench.getState().set({ controlsOpen: before })
  }, [])
  const control = character.controls.find((c) => c.name === chosen) ?? null
  return (
    <section aria-label="Controls" className="shapes" aria-busy={isFetching || edit.isPending}>
      <h2>
        Controls <span className="quiet num">{character.controls.length}</span>
        <button className="chip open-sheet" title="Every control to its rest" onClick={() => (character.poses.length ? goToPose('neutral') : goTo({}))}>
          All to rest
        </button>
      </h2>
      <div className="row" role="tablist" style={{ gap: 4 }} aria-label="Work on controls">
        {WORKS.map((key) => (
          <button key={key} role="tab" className="chip" aria-selected={key === work} aria-pressed={key === work} onClick={() => setWork(key)}>
            {LABELS[key]}
          </button>
        ))}
      </div>
      {error && <p className="madder">{error.message}</p>}
      {work === 'plan' && <FacePlan character={character} lines={data?.lines ?? {}} chosen={chosen} edit={edit} onChoose={setChosen} />}
      {work === 'controls' && <ControlTools key={control?.name} character={character} control={control} curves={data?.curves ?? []} edit={edit} onChoose={setChosen} />}
      {work === 'takes' && <TakePlayer character={character} />}
    </section>
  )
}
