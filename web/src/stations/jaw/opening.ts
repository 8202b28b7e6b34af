import type { Control } from '../../api/client'
import { shownValues, useBench } from '../../state/bench'

/** How far the jaw is open on the stage, 0 to 1, by what opens it. */
export const useOpening = (opens: Control | undefined) =>
  useBench((s) => (opens ? ((shownValues(s)[opens.name] ?? opens.rest) - opens.rest) / (opens.high - opens.rest || 1) : 0))
