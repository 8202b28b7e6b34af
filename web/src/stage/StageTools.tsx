import type { CharacterOut } from '../api/client'
import { useBench } from '../state/bench'
import type { StageEngine } from './engine'
import { BoneEnds } from './tools/BoneEnds'
import { BoneHandle } from './tools/BoneHandle'
import { LandmarkDots } from './tools/LandmarkDots'
import { Lasso } from './tools/Lasso'

interface Props {
  engine: StageEngine | null
  character: CharacterOut
  station: string
}

/** What can be taken hold of on the stage: landmarks at their station, everywhere the picked bone. */
export function StageTools({ engine, character, station }: Props) {
  const placing = useBench((s) => s.placing)
  const movingEnds = useBench((s) => s.movingEnds)
  const bones = useBench((s) => s.display.bones)
  const bone = useBench((s) => s.bone)
  const lasso = useBench((s) => s.lasso)
  const shownMap = useBench((s) => s.shownMap !== null)
  const marks = station === 'landmarks' && placing === 'landmarks'
  const handle = bone !== null && bones && !marks && station !== 'checkin'
  return (
    <>
      {marks && <LandmarkDots engine={engine} character={character} />}
      {handle && !movingEnds && <BoneHandle engine={engine} character={character} />}
      {handle && movingEnds && <BoneEnds engine={engine} character={character} />}
      {(station === 'weights' || station === 'shapes' || shownMap) && lasso && <Lasso engine={engine} character={character} />}
    </>
  )
}
