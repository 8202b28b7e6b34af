import { useQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import { fetchSideCut, type CharacterOut, type Mark } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import type { MarkState } from '../../state/landmarks'
import { SideCutView } from './SideCutView'

interface Props {
  character: CharacterOut
  mark: Mark
  state: MarkState
}

/** Where a landmark belongs, in words; for one inside the head a section to see it in and to drag it in depth. */
export function MarkDetail({ character, mark, state }: Props) {
  const edit = useEdit(character)
  const mirror = useBench((s) => s.mirror)
  const { id, revision } = character
  const deep = mark.lies === 'inside' && mark.placed !== null
  const { data: cut } = useQuery({
    queryKey: ['side cut', id, revision.number, mark.name],
    queryFn: () => fetchSideCut(id, revision.number, mark.name),
    enabled: deep,
    retry: false,
  })
  const place = (point: [number, number, number]) =>
    edit.mutate({ edit: 'landmark.place', params: { name: mark.name, point, snap: 'surface', mirror } })
  return (
    <div className="mark-detail">
      <p>
        {mark.belongs}
        {mark.placed && mark.placed.sure < 1 && <span className="quiet"> Suggested, {Math.round(mark.placed.sure * 100)} % sure.</span>}
      </p>
      {deep && cut && mark.placed && (
        <SideCutView
          cut={cut}
          onDrop={(forward, up) =>
            place(mark.placed!.point.map((x, k) => x + (forward * cut.forward[k]! + up * cut.up[k]!) / 10) as [number, number, number])
          }
        />
      )}
      {state === 'missing' && <p className="attention">{mark.found ? 'It can be suggested, or click on the head where it belongs.' : 'Nothing like it is found. Click on the head where it belongs.'}</p>}
      <div className="row">
        {(state === 'suggested' || state === 'doubtful') && (
          <Button size="small" onClick={() => edit.mutate({ edit: 'landmark.confirm', params: { names: [mark.name] } })}>
            Confirm
          </Button>
        )}
        {mark.placed && mark.found && mark.placed.sure >= 1 && (
          <Button size="small" title="Where it is found on the mesh" onClick={() => place(mark.found!.point as [number, number, number])}>
            Back to the suggestion
          </Button>
        )}
        {mark.placed && (
          <Button size="small" type="text" onClick={() => edit.mutate({ edit: 'landmark.remove', params: { names: [mark.name] } })}>
            Remove
          </Button>
        )}
      </div>
    </div>
  )
}
