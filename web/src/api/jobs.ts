import { create } from 'zustand'
import { client, refusedBy, wanted, type Schemas } from './http'

export type Job = Schemas['JobOut']

/** What this window waits for. */
export const useWaits = create<{ jobs: Job[] }>(() => ({ jobs: [] }))

/** This window does not want it any more. */
export const leaveJob = (id: string) => client.DELETE('/api/jobs/{id}', { params: { path: { id } } })

/** Waits for a job, in sight of whoever looks at `useWaits`; gives it once it is done. What it came to otherwise is thrown. */
export async function followed(job: Job, abort?: AbortSignal, onGoing?: (job: Job) => void): Promise<Job> {
  const leave = () => void leaveJob(job.id)
  abort?.addEventListener('abort', leave)
  try {
    let now = job
    while (now.state === 'waiting' || now.state === 'running') {
      if (abort?.aborted) throw new DOMException('No longer wanted', 'AbortError')
      useWaits.setState(({ jobs }) => ({ jobs: [...jobs.filter((j) => j.id !== job.id), now] }))
      onGoing?.(now)
      now = await wanted<Job>(client.GET('/api/jobs/{id}', { params: { path: { id: job.id } } })) // comes at its end, or after a moment
    }
    if (now.problem) throw refusedBy(now.problem, 'It came to nothing.')
    return now
  } finally {
    abort?.removeEventListener('abort', leave)
    useWaits.setState(({ jobs }) => ({ jobs: jobs.filter((j) => j.id !== job.id) }))
  }
}
