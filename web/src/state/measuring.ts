import { useEffect, useRef } from 'react'
import { fetchEffects, fetchMeasure, type CharacterOut } from '../api/client'
import { useBench } from './bench'

/**
 * Measures every pose of the strip, one after another, whenever there is a new revision; the present pose first. Then says what has
 * changed in all of them since the revision that was measured before.
 */
export function useMeasuring(character: CharacterOut | undefined) {
  const id = character?.id
  const revision = character?.revision.number
  const last = useRef<{ id: number; revision: number } | null>(null)
  useEffect(() => {
    if (!character || id === undefined || revision === undefined) return
    const gone = new AbortController()
    const run = async () => {
      useBench.setState({ measured: 0, effects: null })
      const now = useBench.getState().pose
      const order = [...character.poses].sort((a, b) => Number(b.name === now) - Number(a.name === now))
      for (const pose of order) {
        const report = await fetchMeasure(id, revision, pose.name).catch(() => null)
        if (gone.signal.aborted) return
        if (report) useBench.setState((s) => ({ reports: { ...s.reports, [pose.name]: report }, measured: s.measured + 1 }))
      }
      const before = last.current
      last.current = { id, revision }
      if (before?.id !== id || before.revision === revision || !order.length) return
      const effects = await fetchEffects(id, before.revision, revision, gone.signal).catch(() => null)
      if (!gone.signal.aborted) useBench.setState({ effects })
    }
    void run()
    return () => gone.abort()
    // the poses of a revision never change
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id, revision])
}
