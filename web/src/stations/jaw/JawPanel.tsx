import { useEffect, useState } from 'react'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { useStationFindings } from '../../state/findings'
import { useJaw, useJawCurves } from '../../state/jaw'
import { FindingList } from '../findings/FindingList'
import { PullList } from '../PullList'
import { LipTools } from './LipTools'
import { MovementTools } from './MovementTools'
import { NeckTools } from './NeckTools'
import { OpeningChart } from './OpeningChart'
import { ReliefTools } from './ReliefTools'
import { Works } from '../../ui/Works'

const WORKS = ['findings', 'movement', 'reliefs', 'lips', 'neck'] as const
type Work = (typeof WORKS)[number]
const LABELS: Record<Work, string> = { movement: 'Movement', reliefs: 'Reliefs', lips: 'Lips', neck: 'Neck', findings: 'Findings' }

/** How the jaw moves and what the lower face and the neck do then, measured over the whole opening while they are changed. */
export function JawPanel({ character }: { character: CharacterOut }) {
  const edit = useEdit(character)
  const set = useBench((s) => s.set)
  const goTo = useBench((s) => s.goTo)
  const [work, setWork] = useState<Work>('findings')
  const { data: jaw, error } = useJaw(character)
  const opens = jaw?.controls.jaw_open
  const curves = useJawCurves(character, opens)
  const found = useStationFindings(character, 'jaw')
  useEffect(() => useBench.getState().flyTo('three-quarter'), [])
  if (error || !jaw)
    return (
      <section aria-label="Jaw">
        <h2>Jaw</h2>
        <p>{error ? error.message : 'Opening the jaw …'}</p>
      </section>
    )
  const control = character.controls.find((c) => c.name === opens)
  const open = (to: number) => control && goTo({ ...useBench.getState().values, [control.name]: control.rest + to * (control.high - control.rest) })
  return (
    <section aria-label="Jaw" className="jaw" aria-busy={curves.late || found.isFetching || edit.isPending}>
      <h2>Jaw</h2>
      <Works
        label="Work on the jaw"
        works={WORKS.map((key) => ({ key, label: LABELS[key] + (key === 'findings' && found.data?.length ? ` ${found.data.length}` : '') }))}
        chosen={work}
        onChoose={(key) => {
          setWork(key)
          set({ selection: null })
        }}
      />
      {work === 'movement' && <MovementTools jaw={jaw} curves={curves.data} edit={edit} opens={control} />}
      {work === 'reliefs' && <ReliefTools character={character} jaw={jaw} edit={edit} />}
      {work === 'lips' && <LipTools character={character} jaw={jaw} edit={edit} />}
      {work === 'neck' && <NeckTools character={character} edit={edit} />}
      {work === 'findings' && (
        <FindingList
          character={character}
          station="jaw"
          label="Jaw findings"
          fine="Nothing sinks in, overlaps, gapes, crumples or shifts, in any jaw or head movement."
          onLook={(f) => {
            const place = f.part && f.vertices?.length ? { part: f.part, vertices: f.vertices } : null
            goTo(f.values ?? {})
            set({ selection: place })
            if (place) useBench.getState().frame([place], 3)
          }}
        />
      )}
      {work !== 'neck' && (
        <>
          {curves.error && <p className="madder">{curves.error.message}</p>}
          {curves.data && <OpeningChart curves={curves.data} opens={control} onOpen={open} />}
        </>
      )}
      {character.bones.length > 0 && <PullList character={character} />}
    </section>
  )
}
