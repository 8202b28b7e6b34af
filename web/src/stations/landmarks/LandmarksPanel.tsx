import { Segmented } from 'antd'
import { useEffect } from 'react'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import type { Placing } from '../../state/work/landmarks'
import { BonesTab } from './BonesTab'
import { EyeSeats } from './EyeSeats'
import { MarksTab } from './MarksTab'

const TABS: { value: Placing; label: string }[] = [
  { value: 'eyes', label: 'Eyes' },
  { value: 'landmarks', label: 'Landmarks' },
  { value: 'bones', label: 'Bones' },
]

/** Where things are on the head, so that bones fit. The eye seats come first: a wrong pivot cuts the lids whatever follows. */
export function LandmarksPanel({ character }: { character: CharacterOut }) {
  const placing = useBench((s) => s.placing)
  const set = useBench((s) => s.set)
  useEffect(() => () => set({ spot: null, preview: null, mark: null, movingEnds: false }), [set])
  const turnTo = (placing: Placing) => set({ placing, spot: null, movingEnds: false, ...(placing === 'eyes' ? {} : { camera: { view: 'three-quarter' } }) })
  return (
    <section>
      <header className="panel-head">
        <h2>Landmarks</h2>
        <Segmented size="small" value={placing} options={TABS} onChange={turnTo} />
      </header>
      {placing === 'eyes' && <EyeSeats character={character} />}
      {placing === 'landmarks' && <MarksTab character={character} />}
      {placing === 'bones' && <BonesTab character={character} />}
    </section>
  )
}
