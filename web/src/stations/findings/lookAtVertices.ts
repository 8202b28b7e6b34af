import type { Finding } from '../../api/client'
import { useBench } from '../../state/bench'

const AROUND = 5 // cm round the vertices that are shown: what part of the head that is must be seen

/** Selects the vertices of a finding, and brings them near. */
export function lookAtVertices({ part, vertices = [] }: Finding) {
  if (!part) return
  const { set, frame } = useBench.getState()
  set({ pick: null, selection: vertices.length ? { part, vertices } : null, selectedPart: part })
  if (vertices.length) frame([{ part, vertices }], AROUND)
}
