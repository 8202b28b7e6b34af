import type { CharacterOut } from '../api/client'
import { JawCutCard } from './JawCutCard'
import { LidCutCard } from './LidCutCard'
import { BoneCard } from './BoneCard'
import { PlaceCutCard } from './PlaceCutCard'
import { useBench } from '../state/bench'

/** What stands below every panel for as long as it is held: the picked bone's own control, a section. */
export function Held({ character, station }: { character: CharacterOut; station: string }) {
  const bone = useBench((s) => s.bone !== null && s.display.bones && !s.movingEnds)
  const placing = useBench((s) => s.placing === 'landmarks') && station === 'landmarks'
  return (
    <div className="held">
      {station === 'lids' && <LidCutCard character={character} />}
      {station === 'jaw' && <JawCutCard character={character} />}
      {station !== 'lids' && station !== 'jaw' && <PlaceCutCard character={character} />}
      {bone && !placing && station !== 'checkin' && <BoneCard character={character} />}
    </div>
  )
}
