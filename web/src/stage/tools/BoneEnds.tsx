import { useMemo } from 'react'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import type { StageEngine } from '../engine'
import { Dots, type Dot, type Place } from './Dots'

/** Base and tip of the picked bone in the neutral, to be dragged as deep as they lie. */
export function BoneEnds({ engine, character }: { engine: StageEngine | null; character: CharacterOut }) {
  const name = useBench((s) => s.bone)
  const mirror = useBench((s) => s.mirror)
  const edit = useEdit(character)
  const bone = character.bones.find((b) => b.name === name)
  const dots = useMemo<Dot[]>(
    () =>
      bone
        ? (['base', 'tip'] as const).map((end) => ({
            key: end,
            label: `${bone.label}, ${end}`,
            point: bone[end] as Place,
            tone: `end ${end}`,
            on: null,
          }))
        : [],
    [bone],
  )
  if (!bone) return null
  return (
    <Dots
      engine={engine}
      dots={dots}
      picked={null}
      onPick={() => undefined}
      onDrop={(end, point, undo) => edit.mutate({ edit: 'bone.place', params: { bone: bone.name, ...(end === 'base' ? { base: point } : { tip: point }), twist: 0, mirror } }, { onError: undo })}
    />
  )
}
