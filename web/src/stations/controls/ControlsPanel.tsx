import { Modal } from 'antd'
import { useEffect, useState } from 'react'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { useControls } from '../../state/controls'
import { useEdit } from '../../state/edits'
import { ControlTools } from './ControlTools'
import { FacePlan } from './FacePlan'
import { Works } from '../../ui/Works'

const WORKS = ['plan', 'controls'] as const
type Work = (typeof WORKS)[number]
const LABELS: Record<Work, string> = { plan: 'Face plan', controls: 'Links' }

/** What animators take hold of: pads on a plan of the face, and what each control drives. */
export function ControlsPanel({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const [work, setWork] = useState<Work>('plan')
  const [chosen, setChosen] = useState<string | null>(null)
  const goToPose = useBench((s) => s.goToPose)
  const goTo = useBench((s) => s.goTo)
  const large = useBench((s) => s.planOpen)
  const set = useBench((s) => s.set)
  const { data, error, isFetching } = useControls(character)
  useEffect(() => {
    useBench.getState().flyTo('front')
  }, [])
  const control = character.controls.find((c) => c.name === chosen) ?? null
  const plan = <FacePlan character={character} lines={data?.lines ?? {}} chosen={chosen} edit={edit} onChoose={setChosen} />
  return (
    <section aria-label="Controls" className="shapes" aria-busy={isFetching || edit.isPending}>
      <h2>
        Controls <span className="quiet num">{character.controls.length}</span>
        <button className="chip open-sheet" title="Every control to its rest" onClick={() => (character.poses.length ? goToPose('neutral') : goTo({}))}>
          All to rest
        </button>
      </h2>
      <div className="row">
        <Works label="Work on controls" works={WORKS.map((key) => ({ key, label: LABELS[key] }))} chosen={work} onChoose={setWork} />
        <button className="chip" style={{ marginLeft: 'auto' }} title="The face plan, large (L)" onClick={() => set({ planOpen: true })}>
          Larger
        </button>
      </div>
      {error && <p className="madder">{error.message}</p>}
      {work === 'plan' && plan}
      <Modal open={large} onCancel={() => set({ planOpen: false })} footer={null} title="Face plan" width={640} className="large-plan" destroyOnHidden>
        {plan}
      </Modal>
      {work === 'controls' && <ControlTools key={control?.name} character={character} control={control} curves={data?.curves ?? []} edit={edit} onChoose={setChosen} />}
    </section>
  )
}
