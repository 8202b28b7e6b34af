import { useEffect } from 'react'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { STATIONS } from '../stations'
import { EyeSeats } from './EyeSeats'

/** Where things are on the head, so that bones fit. The eye seats come first: a wrong pivot cuts the lids whatever follows. */
export function LandmarksPanel({ character }: { character: CharacterOut }) {
  const set = useBench((s) => s.set)
  useEffect(() => () => set({ spot: null, preview: null }), [set])
  return (
    <section>
      <h2>Landmarks</h2>
      <EyeSeats character={character} />
      <h3>Landmarks and bones</h3>
      <p className="quiet">{STATIONS.find((s) => s.key === 'landmarks')?.promise}</p>
    </section>
  )
}
