import { useEffect } from 'react'
import type { CharacterOut } from '../api/client'
import { useMixView } from '../state/mix'
import type { StageEngine } from './engine'
import { pictureOf } from './thumbnails'

/** Draws the whole face in the pose that was gone to from the board: the stage itself shows its worst place from near. */
export function useMixPicture(engine: StageEngine | null, inPose: boolean, character: CharacterOut) {
  const looked = useMixView((s) => s.looked)
  useEffect(() => {
    if (!engine || !inPose || !looked) return
    const state = { gone: false }
    void pictureOf(engine, character, looked, state).then((picture) => {
      if (picture && !state.gone) useMixView.setState({ picture })
    })
    return () => {
      state.gone = true
    }
  }, [engine, inPose, looked, character])
}
