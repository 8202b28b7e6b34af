import { Button } from 'antd'
import type { CharacterOut } from '../../api/client'
import { shownValues, useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { useLeft } from '../../state/shapes'

const mm = (v: number) => `${v < 0.005 ? '0' : v.toFixed(2)} mm`

interface Props {
  character: CharacterOut
  name: string
  edit: ReturnType<typeof useEdit>
}

/** A pose of the bones and a shape that does the same: taken out of it, or merged with it, so that nothing counts twice. */
export function PoseAndShape({ character, name, edit }: Props) {
  const values = useBench(shownValues)
  const { data, error } = useLeft(character, name, values)
  const posed = Object.values(values).some(Boolean)
  return (
    <section aria-label="Pose and shape">
      <h3>Pose and shape</h3>
      <div className="row">
        <Button size="small" disabled={!posed || edit.isPending} title="Bones and shape together then give what the shape alone gave" onClick={() => edit.mutate({ edit: 'shape.take_out', params: { name, values } })}>
          Take the pose out
        </Button>
        <Button size="small" disabled={!posed || edit.isPending} title="A new shape of both; the old one is kept aside, muted" onClick={() => edit.mutate({ edit: 'shape.merge_pose', params: { name: `${name}_merged`, shape: name, values } })}>
          Merge with the pose
        </Button>
      </div>
      <p className="quiet said" role="status" aria-label="What is left">
        {error?.message ??
          (!posed
            ? 'Pose the bones that do what the shape does.'
            : data
              ? `In this pose bones move it by up to ${mm(data.bones)}. Taken out, ${mm(data.left)} of difference is left.`
              : 'Measuring what would be left …')}
      </p>
    </section>
  )
}
