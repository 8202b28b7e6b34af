import { useEffect } from 'react'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { PullList } from '../PullList'
import { BrushTools } from '../BrushTools'
import { SelectionBones } from './SelectionBones'
import { SelectionTools } from './SelectionTools'
import { WeightTools } from './WeightTools'

/** Weights of what is selected, tuned in any pose: who carries it, and how much of it. */
export function WeightsPanel({ character }: { character: CharacterOut }) {
  const set = useBench((s) => s.set)
  const painting = useBench((s) => s.painting)
  // whoever works on weights wants to see them
  useEffect(() => {
    useBench.setState((s) => ({ display: { ...s.display, weights: true } }))
    return () => set({ lasso: false, painting: false, alone: null, sheetOpen: false })
  }, [set])
  if (!character.bones.length)
    return (
      <section>
        <h2>Weights</h2>
        <p className="quiet">There is nothing to weigh yet: bones are built at Landmarks.</p>
      </section>
    )
  return (
    <section aria-label="Weights">
      <h2>Weights</h2>
      <BrushTools says="U takes the bone under the pointer." />
      {!painting && <SelectionTools character={character} />}
      <SelectionBones character={character} />
      {!painting && <WeightTools character={character} />}
      <PullList character={character} />
    </section>
  )
}
