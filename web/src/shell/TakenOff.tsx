import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App } from 'antd'
import { fetchTakenOff, sendPutBack, sendTakeOff } from '../api/client'
import { ago } from './Lately'

/** Takes a character off the shelf, or puts it back, and looks at the shelf anew. */
function useMoved(move: (id: number) => Promise<void>) {
  const queries = useQueryClient()
  const { message } = App.useApp()
  return useMutation({
    mutationFn: move,
    onSuccess: () => Promise.all(['shelf', 'lately', 'taken off'].map((key) => queries.invalidateQueries({ queryKey: [key] }))),
    onError: (error) => void message.error(error.message, 6),
  })
}

/** Takes a character off the shelf at once: it can be put back below. */
export function TakeOff({ id, name }: { id: number; name: string }) {
  const off = useMoved(sendTakeOff)
  return (
    <button className="bare link take-off" aria-label={`Take ${name} off the shelf`} title="Off the shelf; it can be put back for a month" disabled={off.isPending} onClick={() => off.mutate(id)}>
      Take off
    </button>
  )
}

/** What was taken off the shelf and is not gone yet. */
export function TakenOff() {
  const { data, dataUpdatedAt } = useQuery({ queryKey: ['taken off'], queryFn: fetchTakenOff })
  const back = useMoved(sendPutBack)
  if (!data?.length) return null
  return (
    <section className="lately" aria-label="Taken off">
      <h2>Taken off the shelf</h2>
      <ul className="plain-list">
        {data.map((c) => (
          <li key={c.id}>
            <span className="quiet">{ago(c.when, dataUpdatedAt)}</span>
            <span>{c.name}</span>
            <button className="bare link" aria-label={`Put ${c.name} back`} disabled={back.isPending} onClick={() => back.mutate(c.id)}>
              Put back
            </button>
            <span className="quiet">kept until {new Date(c.until).toLocaleDateString('en-GB', { day: 'numeric', month: 'long' })} at least</span>
          </li>
        ))}
      </ul>
    </section>
  )
}
