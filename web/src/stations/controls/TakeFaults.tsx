import { useMutation } from '@tanstack/react-query'
import { Button } from 'antd'
import { fetchMeasuredTake, type CharacterOut, type TakeFault } from '../../api/client'
import { lookAtPlace } from '../../state/mix'
import { counted } from '../../ui/names'

interface Props {
  character: CharacterOut
  take: string
  mapping: Record<string, string | null> | null
  smooth: number
  /** The frame on the stage, and the last one. */
  frame: number
  last: number
  /** Brings a frame onto the stage. */
  onFrame: (frame: number) => void
}

/** Every frame of a take measured, on demand: what is wrong, from when to when. */
export function TakeFaults({ character, take, mapping, smooth, frame, last, onFrame }: Props) {
  const { id, revision } = character
  const key = JSON.stringify([id, revision.number, take, mapping, smooth])
  const { mutate, data, error, isPending } = useMutation({
    mutationFn: async () => ({ key, report: await fetchMeasuredTake(id, revision.number, take, mapping, smooth) }),
  })
  const report = data?.key === key ? data.report : null // of another mapping it says nothing
  const look = (fault: TakeFault) => {
    onFrame(fault.frame)
    lookAtPlace(fault)
  }
  return (
    <section aria-label="Faults of the take">
      <div className="row">
        <Button size="small" loading={isPending} onClick={() => mutate()}>
          Measure every frame
        </Button>
        {report && (
          <span className={report.faults.length ? 'madder' : 'quiet'} role="status" aria-label="Measured take">
            {counted(report.frames, 'frame')} measured: {report.faults.length ? counted(report.faults.length, 'fault') : report.not_measured.length ? 'nothing over its limit in what was measured' : 'all within'}
          </span>
        )}
      </div>
      {report && report.faults.length > 0 && <Ribbon faults={report.faults} frame={frame} last={last} onLook={look} />}
      {error && <p className="madder">{error.message}</p>}
      {report?.not_measured.map((said) => (
        <p key={said} className="quiet">
          Not measured: {said}
        </p>
      ))}
      {report?.at_rest.map((said) => (
        <p key={said} className="madder">
          At rest already: {said}
        </p>
      ))}
      <ul className="take-faults">
        {report?.faults.map((fault) => (
          <li key={`${fault.kind} ${fault.about} ${fault.place} ${fault.first} ${fault.limit}`}>
            <button className="bare" onClick={() => look(fault)}>
              <b>{fault.title}</b> <span className="quiet">{fault.first === fault.last ? `frame ${fault.frame + 1}` : `frames ${fault.first + 1} to ${fault.last + 1}, worst at ${fault.frame + 1}`}:</span> {fault.text}
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}

interface RibbonProps {
  faults: TakeFault[]
  frame: number
  last: number
  onLook: (fault: TakeFault) => void
}

/** The take from left to right: where something is wrong, the worst frame of each stretch broad, and where the stage is. */
function Ribbon({ faults, frame, last, onLook }: RibbonProps) {
  const at = (k: number) => `${(100 * k) / Math.max(last, 1)}%`
  return (
    <div className="take-ribbon" role="group" aria-label="Worst frames of the take">
      {faults.map((fault) => (
        <span key={`${fault.kind} ${fault.about} ${fault.place} ${fault.first} ${fault.limit}`}>
          <i style={{ left: at(fault.first), width: at(fault.last - fault.first) }} />
          <button className="bare" style={{ left: at(fault.frame) }} title={`${fault.title}, frame ${fault.frame + 1}`} aria-label={`${fault.title}, worst at frame ${fault.frame + 1}`} onClick={() => onLook(fault)} />
        </span>
      ))}
      <b style={{ left: at(frame) }} />
    </div>
  )
}
