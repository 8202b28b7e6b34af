import { useEffect } from 'react'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { channelsOf } from './handle'

const WAIT = 280 // ms the pointer rests before the bone shows what it does
const SWING = 900 // ms
const SHARE = 0.25 // of the way to its limit
const MOST = { turn: 6, move: 0.3 } // degrees, cm

/** While a bone is hovered: let it move the head a little and back, once. */
export function useNudge(character: CharacterOut, hovered: string | null) {
  useEffect(() => {
    const bone = character.bones.find((b) => b.name === hovered)
    const channel = bone && channelsOf(bone)[0]
    if (!channel || window.matchMedia('(prefers-reduced-motion: reduce)').matches) return
    const far = Math.min(MOST[channel.kind], SHARE * channel.high)
    let frame = 0
    let start = 0
    const swing = (now: number) => {
      start ||= now
      const t = (now - start) / SWING
      useBench.setState({ nudge: t < 1 ? { [channel.name]: far * Math.sin(Math.PI * t) } : {} })
      if (t < 1) frame = requestAnimationFrame(swing)
    }
    const waiting = window.setTimeout(() => (frame = requestAnimationFrame(swing)), WAIT)
    return () => {
      window.clearTimeout(waiting)
      cancelAnimationFrame(frame)
      useBench.setState({ nudge: {} })
    }
  }, [character.bones, hovered])
}
