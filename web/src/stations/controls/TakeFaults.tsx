import { useMutation } from '@tanstack/react-query'
import { Button } from 'antd'
import { fetchMeasuredTake, type CharacterOut, type TakeFault, type TakeReport } from '../../api/client'
import { counted } from '../../ui/names'

const keyOf = (fault: TakeFault) => `${fault.kind} ${fault.about} ${fault.place} ${fault.first} ${fault.limit}`

interface Measured {
  report: TakeReport | null
  error: Error | null
  isPending: boolean
  measure: () => void
}

/** Every frame of a take measured, on demand; of another mapping or smoothing it says nothing. */
export function useMeasuredTake({ id, revision }: CharacterOut, take: string | null, mapping: Record<string, string | null> | null, smooth: number): Measured {
  const key = JSON.stringify([id, revision.number, take, mapping, smooth])
  const { mutate, data, error, isPending } = useMutation({
    mutationFn: async (name: string) => ({ key, report: await fetchMeasuredTake(id, revision.number, name, mapping, smooth) }),
  })
  return { report: data?.key === key ? data.report : null, error, isPending, measure: () => take && mutate(take) }
}

/** What is wrong in a take, from when to when. */
export function TakeFaults({ measured: { report, error, isPending, measure }, onLook }: { measured: Measured; onLook: (fault: TakeFault) => void }) {
  return (
    <section aria-label="Faults of the take">
      <div className="row">
        <Button size="small" loading={isPending} onClick={measure}>
          Measure every frame
        </Button>
        {report && (
          <span className={report.faults.length ? 'madder' : 'quiet'} role="status" aria-label="Measured take">
            {counted(report.frames, 'frame')} measured: {report.faults.length ? counted(report.faults.length, 'fault') : report.not_measured.length ? 'nothing over its limit in what was measured' : 'all within'}
          </span>
        )}
      </div>
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
          <li key={keyOf(fault)}>
            <button className="bare" onClick={() => onLook(fault)}>
              <b>{fault.title}</b> <span className="quiet">{fault.first === fault.last ? `frame ${fault.frame + 1}` : `frames ${fault.first + 1} to ${fault.last + 1}, worst at ${fault.frame + 1}`}:</span> {fault.text}
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}

interface RibbonProps {
  report: TakeReport
  frame: number
  last: number
  onLook: (fault: TakeFault) => void
}

/** The take from left to right: where something is wrong, the worst frame of each stretch broad, and where the stage is. */
export function TakeRibbon({ report, frame, last, onLook }: RibbonProps) {
  const at = (k: number) => `${(100 * k) / Math.max(last, 1)}%`
  return (
    <div className="take-ribbon" role="group" aria-label="Worst frames of the take">
      {report.faults.map((fault) => (
        <span key={keyOf(fault)}>
          <i style={{ left: at(fault.first), width: at(fault.last - fault.first) }} />
          <button className="bare" style={{ left: at(fault.frame) }} title={`${fault.title}, frame ${fault.frame + 1}`} aria-label={`${fault.title}, worst at frame ${fault.frame + 1}`} onClick={() => onLook(fault)} />
        </span>
      ))}
      <b style={{ left: at(frame) }} />
    </div>
  )
}
