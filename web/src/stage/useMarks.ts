import { useEffect } from 'react'
import type { Check, PreviewOut } from '../api/client'
import { tokens } from '../theme/tokens'
import type { StageEngine } from './engine'

const MOST_DOTS = 1500 // of one part; beyond, the part as a whole is meant and dots would only cover it

/** Marks on the stage what the open check speaks of, and draws what a previewed repair would move. */
export function useMarks(engine: StageEngine | null, ready: boolean, check: Check | null, preview: PreviewOut | null) {
  useEffect(() => {
    if (!engine || !ready) return
    const places = (check?.places ?? []).filter((p) => p.vertices.length <= MOST_DOTS)
    engine.markVertices(places, check?.verdict === 'fault' ? tokens.madder : tokens.saffron)
  }, [engine, ready, check])
  useEffect(() => {
    if (engine && ready) engine.thread(preview ? preview.parts.flatMap((p) => p.lines) : [])
  }, [engine, ready, preview])
}
