import { Dropdown, Popover, Select, Tooltip } from 'antd'
import type { CharacterOut } from '../api/client'
import type { Tint } from '../api/frames'
import { useBench } from '../state/bench'
import type { Display } from '../state/work/view'
import { Icon, type IconName } from '../ui/icons'
import type { StageEngine } from './engine'
import { PartsList } from './PartsList'
import { canFilm, saveStill, saveTurntable } from './film'
import { VIEWS } from './views'

const TOOLS: { name: keyof Display & IconName; label: string; title: string; key?: string }[] = [
  { name: 'wires', label: 'Wires', title: 'Edges of the true mesh', key: 'D' },
  { name: 'weights', label: 'Weights', title: 'How much the bone carries of each vertex', key: 'W' },
  { name: 'bones', label: 'Bones', title: 'Bones over the surface', key: 'B' },
  { name: 'glass', label: 'Glass', title: 'Skin, hair and cloth turn transparent', key: 'G' },
  { name: 'smooth', label: 'Smooth view', title: 'The subdivided surface; what is measured is the true mesh' },
  { name: 'dark', label: 'Dark ground', title: 'A dark ground for the stage' },
]

const TINTS: { value: Tint | 'none'; label: string; title: string }[] = [
  { value: 'none', label: 'Plain', title: 'Nothing is compared' },
  { value: 'mirror', label: 'L–R pose', title: 'Left against right in this pose' },
  { value: 'weights', label: 'L–R weights', title: 'Left against right: weights' },
  { value: 'pin', label: 'Now–pin', title: 'Now against the pinned revision' },
  { value: 'stretch', label: 'Stretch', title: 'How far the surface is stretched or pressed' },
  { value: 'dual', label: 'Dual–linear', title: 'Dual quaternion skinning against linear' },
]

interface Props {
  engine: StageEngine | null
  character: CharacterOut
  checking: boolean
  /** May the subdivided surface be drawn here? */
  smoothable: boolean
}

/** The one row of tools over the stage: where it is looked at from, what is drawn, what is compared. */
export function StageBar({ engine, character, checking, smoothable }: Props) {
  return (
    <div className="stage-bar">
      <Views />
      <div className="tools" role="toolbar" aria-label="Display">
        <Displays character={character} smoothable={smoothable} />
        <Parts character={character} />
        {engine && <Pictures engine={engine} name={character.name} />}
        {character.bones.length > 0 && !checking && <Compare />}
      </div>
    </div>
  )
}

function Views() {
  const view = useBench((s) => (s.turned ? null : s.camera.view))
  const flyTo = useBench((s) => s.flyTo)
  return (
    <>
      <div className="tools views" role="toolbar" aria-label="Views">
        {VIEWS.map(({ name, label, title }) => (
          <button key={name} className="tool" aria-pressed={view === name} title={title} onClick={() => flyTo(name)}>
            {label}
          </button>
        ))}
      </div>
      <Select
        className="views-narrow"
        size="small"
        aria-label="View"
        placeholder="View"
        value={view}
        popupMatchSelectWidth={false}
        onChange={(name) => name && flyTo(name)}
        options={VIEWS.map(({ name, title }) => ({ value: name, label: title }))}
      />
    </>
  )
}

function Displays({ character, smoothable }: { character: CharacterOut; smoothable: boolean }) {
  const display = useBench((s) => s.display)
  const toggle = useBench((s) => s.toggle)
  const rigged = character.bones.length > 0
  const offered = TOOLS.filter(({ name }) => (rigged || (name !== 'weights' && name !== 'bones')) && (smoothable || name !== 'smooth'))
  return offered.map(({ name, label, title, key }) => (
    <Tooltip key={name} title={`${label}: ${title.charAt(0).toLowerCase()}${title.slice(1)}${key ? ` (${key})` : ''}`}>
      <button className="tool" aria-label={label} aria-pressed={display[name]} onClick={() => toggle(name)}>
        <Icon name={name} />
      </button>
    </Tooltip>
  ))
}

function Parts({ character }: { character: CharacterOut }) {
  const open = useBench((s) => s.partsOpen)
  const set = useBench((s) => s.set)
  return (
    <Popover open={open} onOpenChange={(partsOpen) => set({ partsOpen })} trigger="click" placement="rightTop" content={<PartsList character={character} />}>
      <Tooltip title={open ? '' : 'Parts: which are shown'}>
        <button className="tool" aria-label="Parts" aria-pressed={open}>
          <Icon name="parts" />
        </button>
      </Tooltip>
    </Popover>
  )
}

/** The stage as a still or as a short film. */
function Pictures({ engine, name }: { engine: StageEngine; name: string }) {
  const items = [
    { key: 'still', label: 'Still (PNG)' },
    { key: 'turntable', label: 'Turntable, 6 s (film)', disabled: !canFilm() },
  ]
  return (
    <Dropdown trigger={['click']} menu={{ items, onClick: ({ key }) => (key === 'still' ? saveStill(engine, name) : void saveTurntable(engine, name)) }}>
      <button className="tool" aria-label="Save a picture" title="Save what the stage shows">
        <Icon name="still" />
      </button>
    </Dropdown>
  )
}

function Compare() {
  const tint = useBench((s) => s.tint)
  const pinned = useBench((s) => s.pin !== null)
  const set = useBench((s) => s.set)
  return (
    <Select<Tint | 'none'>
      size="small"
      variant="borderless"
      className="compare"
      aria-label="What is coloured"
      value={tint ?? 'none'}
      popupMatchSelectWidth={false}
      labelRender={({ value, label }) => (value === 'none' ? <span className="quiet">Compare</span> : label)}
      onChange={(value) => set({ tint: value === 'none' ? null : value })}
      options={TINTS.map((t) => ({ ...t, disabled: t.value === 'pin' && !pinned }))}
    />
  )
}
