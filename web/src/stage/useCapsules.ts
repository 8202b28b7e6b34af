import { useEffect } from 'react'
import type { CharacterOut } from '../api/client'
import { useBench } from '../state/bench'
import type { StageEngine } from './engine'

/** Draws the envelope of the picked bone and of its twin while envelopes are worked on; where none is picked, that of the jaw. */
export function useCapsules(engine: StageEngine | null, ready: boolean, character: CharacterOut) {
  const wanted = useBench((s) => s.envelopes)
  const picked = useBench((s) => s.bone)
  useEffect(() => {
    if (!engine || !ready) return
    const bone = character.bones.find((b) => b.name === picked) ?? character.bones.find((b) => b.region === 'jaw')
    const rows = character.bones.flatMap((b, row) => (bone && (b === bone || b.name === bone.twin) ? [row] : []))
    engine.showCapsules(wanted ? rows.map((row) => ({ row, radii: character.envelopes[row] as [number, number] })) : [])
  }, [engine, ready, character, wanted, picked])
}
