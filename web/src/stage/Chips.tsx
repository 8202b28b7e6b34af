import { Select } from 'antd'
import type { CharacterOut } from '../api/client'
import type { Tint } from '../api/frames'
import { useBench, type Display } from '../state/bench'
import { VIEWS } from './views'

export function ViewChips() {
  const view = useBench((s) => s.camera.view)
  const flyTo = useBench((s) => s.flyTo)
  return (
    <div className="chips views" role="toolbar" aria-label="Views">
      {VIEWS.map(({ name, label }) => (
        <button key={name} className="chip" aria-pressed={view === name} onClick={() => flyTo(name)}>
          {label}
        </button>
      ))}
    </div>
  )
}

const CHIPS: { name: keyof Display; label: string; title: string }[] = [
  { name: 'wires', label: 'Wires', title: 'Edges of the true mesh (D)' },
  { name: 'weights', label: 'Weights', title: 'How much the bone carries of each vertex (W)' },
  { name: 'bones', label: 'Bones', title: 'Bones over the surface (B)' },
  { name: 'glass', label: 'Glass', title: 'Skin and hair turn transparent (G)' },
  { name: 'smooth', label: 'Smooth view', title: 'The subdivided surface; what is measured is the true mesh' },
  { name: 'dark', label: 'Dark ground', title: 'A dark ground for the stage' },
]

interface Props {
  character: CharacterOut
  checking: boolean
  /** May the subdivided surface be drawn here? */
  smoothable: boolean
}

export function DisplayChips({ character, checking, smoothable }: Props) {
  const display = useBench((s) => s.display)
  const bone = useBench((s) => s.weightBone)
  const partsOpen = useBench((s) => s.partsOpen)
  const controlsOpen = useBench((s) => s.controlsOpen)
  const tint = useBench((s) => s.tint)
  const pinned = useBench((s) => s.pin !== null)
  const set = useBench((s) => s.set)
  const toggle = useBench((s) => s.toggle)
  const rigged = character.bones.length > 0
  const offered = CHIPS.filter(({ name }) => (rigged || (name !== 'weights' && name !== 'bones')) && (smoothable || name !== 'smooth'))
  const carriers = new Set(character.parts.flatMap((p) => p.influences.map((i) => i.bone)))
  return (
    <div className="chips display" role="toolbar" aria-label="Display">
      {offered.map(({ name, label, title }) => (
        <button key={name} className="chip" aria-pressed={display[name]} title={title} onClick={() => toggle(name)}>
          {label}
        </button>
      ))}
      <button className="chip" aria-pressed={partsOpen} onClick={() => set({ partsOpen: !partsOpen })}>
        Parts
      </button>
      {character.controls.length > 0 && !checking && (
        <button className="chip" aria-pressed={controlsOpen} onClick={() => set({ controlsOpen: !controlsOpen })}>
          Controls
        </button>
      )}
      {rigged && !checking && (
        <Select<Tint | 'none'>
          size="small"
          aria-label="What is coloured"
          value={tint ?? 'none'}
          popupMatchSelectWidth={false}
          onChange={(value) => set({ tint: value === 'none' ? null : value })}
          options={[
            { value: 'none', label: 'Plain' },
            { value: 'mirror', label: 'L–R pose', title: 'Left against right in this pose' },
            { value: 'weights', label: 'L–R weights', title: 'Left against right: weights' },
            { value: 'pin', label: 'Now–pin', title: 'Now against the pinned revision', disabled: !pinned },
            { value: 'stretch', label: 'Stretch', title: 'How far the surface is stretched or pressed' },
            { value: 'dual', label: 'Dual–linear', title: 'Dual quaternion skinning against linear' },
          ]}
        />
      )}
      {display.weights && rigged && (
        <Select
          size="small"
          aria-label="Bone whose weights are shown"
          value={bone}
          popupMatchSelectWidth={false}
          onChange={(weightBone) => set({ weightBone })}
          options={character.bones.filter((b) => carriers.has(b.name)).map((b) => ({ value: b.name, label: b.label }))}
        />
      )}
    </div>
  )
}
