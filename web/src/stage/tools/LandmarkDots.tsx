import { useMemo } from 'react'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { stateOf, useLandmarks } from '../../state/landmarks'
import type { StageEngine } from '../engine'
import { Dots, type Dot, type Place } from './Dots'

interface Props {
  engine: StageEngine | null
  character: CharacterOut
}

/** The landmarks on the stage: drawn by how sure their places are, dragged over the skin or, inside the head, as deep as they lie. */
export function LandmarkDots({ engine, character }: Props) {
  const { data } = useLandmarks(character)
  const picked = useBench((s) => s.mark)
  const mirror = useBench((s) => s.mirror)
  const snap = useBench((s) => s.snap)
  const set = useBench((s) => s.set)
  const edit = useEdit(character)
  const skin = character.parts.find((p) => p.kind === 'skin')?.name ?? null
  const dots = useMemo<Dot[]>(
    () =>
      (data?.marks ?? []).flatMap((m) =>
        m.placed
          ? [
              {
                key: m.name,
                label: m.label,
                point: m.placed.point as Place,
                tone: `${stateOf(m, data?.doubtful ?? 0)} ${m.lies}`,
                on: m.lies === 'on' ? skin : null,
              },
            ]
          : [],
      ),
    [data, skin],
  )
  const twins = new Map(data?.marks.map((m) => [m.name, m.twin]))
  return (
    <Dots
      engine={engine}
      dots={dots}
      picked={picked}
      onPick={(mark) => set({ mark })}
      onDrop={(name, point, undo) => {
        set({ mark: name })
        edit.mutate({ edit: 'landmark.place', params: { name, point, snap, mirror } }, { onError: undo })
      }}
      follows={(name, point) => {
        const twin = twins.get(name)
        return mirror && twin && data?.middle ? { key: twin, point: reflected(point, data.middle as [Place, Place]) } : null
      }}
    />
  )
}

/** Where a twin goes while its landmark is dragged; where it comes to rest says the server. */
function reflected(p: Place, [on, normal]: [Place, Place]): Place {
  const far = p.reduce((sum, x, k) => sum + (x - on[k]!) * normal[k]!, 0)
  return p.map((x, k) => x - 2 * far * normal[k]!) as Place
}
