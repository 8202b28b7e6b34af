import { Button, Select, Slider } from 'antd'
import { useEffect, useRef } from 'react'
import type { CharacterOut } from '../api/client'
import { useBench } from '../state/bench'

const PACE = 0.9 // seconds from pose to pose at ordinary speed

/** Control values between two poses of the strip: `at` counts poses, 2.5 is half-way from the third to the fourth. */
export function between(character: CharacterOut, at: number, strength: number): Record<string, number> {
  const rest = (name: string) => character.controls.find((c) => c.name === name)?.rest ?? 0
  const [from, to] = [Math.floor(at), Math.ceil(at)].map((k) => character.poses[k % character.poses.length]!.values)
  const t = at - Math.floor(at)
  const eased = t * t * (3 - 2 * t)
  const names = new Set([...Object.keys(from!), ...Object.keys(to!)])
  return Object.fromEntries(
    [...names].map((name) => {
      const [a, b] = [from![name] ?? rest(name), to![name] ?? rest(name)]
      return [name, rest(name) + (a + (b - a) * eased - rest(name)) * strength]
    }),
  )
}

/** Plays through the poses of the strip at a chosen speed, and scrubs along them. */
export function Player({ character }: { character: CharacterOut }) {
  const playing = useBench((s) => s.playing)
  const speed = useBench((s) => s.speed)
  const at = useBench((s) => s.playedTo)
  const set = useBench((s) => s.set)
  const last = character.poses.length - 1
  const now = useRef(at)
  const go = (to: number) => {
    const { strength } = useBench.getState()
    const whole = Math.abs(to - Math.round(to)) < 1e-3
    const pose = whole ? (character.poses[Math.round(to)]?.name ?? null) : null
    set({ playedTo: to, pose, values: between(character, to, strength) })
  }
  useEffect(() => {
    now.current = at
  }, [at])
  useEffect(() => {
    if (!playing) return
    let before: number | null = null // the first frame may have begun before the click
    let asked = 0
    const step = (time: number) => {
      const to = (now.current + ((time - (before ?? time)) / 1000 / PACE) * speed) % character.poses.length
      before = time
      now.current = to
      go(to)
      asked = requestAnimationFrame(step)
    }
    asked = requestAnimationFrame(step)
    return () => cancelAnimationFrame(asked)
    // the poses of a revision never change
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [playing, speed, character])
  return (
    <div className="player" role="group" aria-label="Player">
      <Button size="small" aria-label={playing ? 'Pause' : 'Play through the poses'} aria-pressed={playing} onClick={() => set({ playing: !playing })}>
        {playing ? '❚❚' : '▶'}
      </Button>
      <Slider
        ariaLabelForHandle="Scrub through the poses"
        min={0}
        max={last}
        step={0.02}
        value={Math.min(at, last)}
        tooltip={{ open: false }}
        onChange={(to) => {
          set({ playing: false })
          go(to)
        }}
      />
      <Select
        size="small"
        aria-label="Speed"
        value={speed}
        popupMatchSelectWidth={false}
        onChange={(value) => set({ speed: value })}
        options={[0.25, 0.5, 1, 2].map((value) => ({ value, label: `${value}×` }))}
      />
    </div>
  )
}
