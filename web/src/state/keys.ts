import { useEffect } from 'react'
import { useNavigate } from 'react-router-dom'
import type { Check } from '../api/client'
import { STATIONS } from '../stations/stations'
import { boneToRest, useBench } from './bench'

const SELECTED = 4 // cm about a selection that are shown with it

/** All keys of the bench, bound by position on the keyboard so that they work on every layout. */
export const KEYS: { keys: string; does: string }[] = [
  { keys: '1 … 9, 0', does: 'Go to a station' },
  { keys: 'J, K', does: 'Pose before, pose after' },
  { keys: 'hold N', does: 'Show the neutral' },
  { keys: 'D', does: 'Wires' },
  { keys: 'W', does: 'Weights of the chosen bone' },
  { keys: 'B', does: 'Bones' },
  { keys: 'G', does: 'Glass: skin, hair and cloth turn transparent' },
  { keys: 'F', does: 'Frame the open check, the selection, the part shown alone, the picked bone, or the worst place of this pose' },
  { keys: 'M', does: 'Mirrored work on and off' },
  { keys: 'C', does: 'Compare with the pinned revision; pins this one where none is. While a repair is tried: with what is now' },
  { keys: 'hold V', does: 'While a repair is tried: show what is now' },
  { keys: 'P, I', does: 'Paint; pick' },
  { keys: 'Ctrl, Shift held', does: 'While painting: take away, smooth' },
  { keys: 'drag with R, T held', does: 'Size and strength of the brush' },
  { keys: 'U', does: 'While painting: take the bone under the pointer' },
  { keys: 'H', does: 'Put the picked bone back to rest' },
  { keys: 'L', does: 'At Controls: the face plan, large' },
  { keys: 'drag, wheel', does: 'On the stage: turn it, go nearer or farther; right button: shift it' },
  { keys: 'click, Shift, Alt', does: 'On the stage: pick a vertex or a bone; select more, or fewer' },
  { keys: '← → ↑ ↓, + −', does: 'On the stage: turn it, go nearer or farther' },
  { keys: 'O', does: 'Only the stage, and back' },
  { keys: 'Ctrl+Z, Ctrl+Shift+Z', does: 'Undo, redo' },
  { keys: 'Esc', does: 'Cancel or close' },
  { keys: '?', does: 'These keys' },
]

const typing = (target: EventTarget | null) => target instanceof HTMLElement && (['INPUT', 'TEXTAREA'].includes(target.tagName) || target.isContentEditable)

/** Undo in a field that nothing was typed into is meant for the work. */
const undoes = (e: KeyboardEvent) => (e.ctrlKey || e.metaKey) && e.code === 'KeyZ' && e.target instanceof HTMLElement && e.target.dataset.untouched !== undefined

/** What F looks at. */
function lookCloser(check: Check | null) {
  const s = useBench.getState()
  const told = check ?? s.spot
  if (told?.places?.length) return s.frame(told.places)
  if (s.selection) return s.frame([s.selection], SELECTED)
  const alone = s.character?.parts.find((p) => p.name === s.isolated)
  if (alone) return s.frame([{ part: alone.name, vertices: Array.from({ length: alone.vertices }, (_, v) => v) }])
  const bone = s.character?.bones.find((b) => b.name === s.bone)
  if (bone) return s.lookAt(bone.base as [number, number, number])
  const worst = [...(s.reports[s.pose ?? '']?.findings ?? [])].sort((a, b) => b.size - a.size)[0]
  return worst?.point && s.lookAt(worst.point as [number, number, number])
}

/** What Escape puts away: first what is in the hand, a lasso or a brush; then what is open or picked. */
function putAway() {
  const s = useBench.getState()
  if (s.lasso || s.painting) return s.set({ lasso: false, painting: false })
  return s.set({ keysOpen: false, partsOpen: false, planOpen: false, bareStage: false, pick: null, seam: null, check: null, spot: null, preview: null, isolated: null, mark: null, bone: null, movingEnds: false, selection: null, alone: null })
}

interface Actions {
  /** The check that is open at Check-in. */
  check: Check | null
  undo: () => void
  redo: () => void
  goToStation: (key: string) => void
}

function pressed(e: KeyboardEvent, { check, undo, redo, goToStation }: Actions) {
  const s = useBench.getState()
  if (e.ctrlKey || e.metaKey) {
    if (e.code !== 'KeyZ') return
    e.preventDefault()
    return e.shiftKey ? redo() : undo()
  }
  const digit = /^Digit(\d)$/.exec(e.code)?.[1]
  const station = digit && STATIONS[(Number(digit) + 9) % 10]
  if (station) return goToStation(station.key)
  if (e.key === '?') return s.set({ keysOpen: !s.keysOpen })
  switch (e.code) {
    case 'KeyJ':
    case 'KeyK': {
      const poses = s.character?.poses ?? []
      const at = poses.findIndex((p) => p.name === s.pose)
      const next = poses[(at + (e.code === 'KeyJ' ? -1 : 1) + poses.length) % poses.length]
      return next && s.goToPose(next.name)
    }
    case 'KeyN':
      return s.set({ holdNeutral: true })
    case 'KeyD':
      return s.toggle('wires')
    case 'KeyW':
      return s.toggle('weights')
    case 'KeyB':
      return s.toggle('bones')
    case 'KeyG':
      return s.toggle('glass')
    case 'KeyV':
      return s.trial && s.set({ holdBefore: true })
    case 'KeyC': {
      if (s.trial) return s.set({ comparing: !s.comparing && s.trial.draft !== null })
      const now = s.character?.revision
      return now && s.set(s.pin ? { comparing: !s.comparing } : { pin: { number: now.number, text: now.text } })
    }
    case 'KeyP':
      return s.set({ painting: true, lasso: false })
    case 'KeyI':
      return s.set({ painting: false })
    case 'KeyM':
      return s.set({ mirror: !s.mirror })
    case 'KeyH':
      return s.bone ? boneToRest(s.bone) : undefined
    case 'KeyL':
      return s.set({ planOpen: !s.planOpen })
    case 'KeyO':
      return s.set({ bareStage: !s.bareStage })
    case 'KeyF':
      return lookCloser(check)
    case 'Escape':
      return putAway()
  }
}

export function useKeys(check: Check | null, undo: () => void, redo: () => void) {
  const navigate = useNavigate()
  useEffect(() => {
    const down = (e: KeyboardEvent) => {
      if ((typing(e.target) && !undoes(e)) || e.altKey) return
      const id = useBench.getState().character?.id
      pressed(e, { check, undo, redo, goToStation: (key) => navigate(`/characters/${id}/${key}${window.location.search}`) })
    }
    const up = (e: KeyboardEvent) => {
      if (e.code === 'KeyN') useBench.setState({ holdNeutral: false })
      if (e.code === 'KeyV') useBench.setState({ holdBefore: false })
    }
    const left = () => useBench.setState({ holdNeutral: false, holdBefore: false })
    window.addEventListener('keydown', down)
    window.addEventListener('keyup', up)
    window.addEventListener('blur', left)
    return () => {
      window.removeEventListener('keydown', down)
      window.removeEventListener('keyup', up)
      window.removeEventListener('blur', left)
    }
  }, [check, undo, redo, navigate])
}
