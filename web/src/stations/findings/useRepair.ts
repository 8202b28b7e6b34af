import { App } from 'antd'
import { useState } from 'react'
import { sendTry, type CharacterOut, type Finding, type Tried } from '../../api/client'
import { useBench } from '../../state/bench'
import { useStroke } from '../../state/edits'
import type { OwnPose } from './TriedOut'
import { repairOf } from './cards'

export interface OnTrial {
  /** What of the list it is about. */
  key: string
  revision: number
  found: Tried
  own: OwnPose
}

/** Trying repairs, and making them: one at a time, and none of what was found before the last edit. */
export function useRepair(character: CharacterOut, onLook: (finding: Finding) => void, onRepaired: (key: string) => void) {
  const { message } = App.useApp()
  const store = useStroke(character)
  const [trial, setTrial] = useState<OnTrial | null>(null)
  const [busy, setBusy] = useState<string | null>(null)
  const revision = character.revision.number
  const repair = async (key: string, findings: Finding[]) => {
    const step = repairOf(findings)
    if (!step || store.isPending) return
    setBusy(key)
    await store.mutateAsync({ step, on: revision }).then(
      () => onRepaired(key),
      () => undefined, // it has been said
    )
    setBusy(null)
  }
  /** Measured before it is done; one that harms nothing is done at once where that was asked for, of any other it is said first what it does. */
  const tryOut = async (key: string, findings: Finding[], then: 'show' | 'repair') => {
    const step = repairOf(findings)
    if (!step || busy) return
    const { values, pose, strength } = useBench.getState()
    const own = trial?.own ?? { values, pose, strength }
    setBusy(key)
    try {
      const found = await sendTry(character.id, revision, step)
      if (then === 'repair' && !found.tried.harms) return await repair(key, findings)
      onLook(findings[0]!)
      setTrial({ key, revision, found, own })
    } catch (refused) {
      void message.error((refused as Error).message)
    } finally {
      setBusy(null)
    }
  }
  return { trial: trial?.revision === revision ? trial : null, busy, repair, tryOut, leave: () => setTrial(null) }
}
