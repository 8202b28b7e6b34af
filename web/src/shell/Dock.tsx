import { Button, Input, Slider } from 'antd'
import { useState } from 'react'
import type { CharacterOut } from '../api/client'
import { useBench } from '../state/bench'
import type { DockTab } from '../state/work/poses'
import { useTakes } from '../state/controls'
import { TakePlayer } from '../stations/controls/TakePlayer'
import { ControlsDock } from './ControlsDock'
import { KeepPose } from './KeepPose'
import { Player } from './Player'
import { PoseMenu } from './PoseMenu'
import { PoseFilters, PoseStrip } from './PoseStrip'
import { Works } from '../ui/Works'

/** What poses the head: the test poses as pictures, a slider for each control, takes that play into them. */
export function Dock({ character }: { character: CharacterOut }) {
  const open = useBench((s) => s.dock)
  const set = useBench((s) => s.set)
  const goToPose = useBench((s) => s.goToPose)
  const goTo = useBench((s) => s.goTo)
  const [wanted, setWanted] = useState('')
  const { data: takes } = useTakes()
  const tabs: { key: DockTab; label: string; count: number }[] = [
    { key: 'poses', label: 'Poses', count: character.poses.length },
    { key: 'controls', label: 'Controls', count: character.controls.length },
    { key: 'takes', label: 'Takes', count: takes?.length ?? 0 },
  ]
  const offered = tabs.filter(({ key }) => key === 'poses' || character.controls.length > 0)
  const shown = offered.some((t) => t.key === open) ? open : 'poses'
  return (
    <div className="dock">
      <div className="dock-head">
        <Works
          label="Dock"
          works={offered.map(({ key, label, count }) => ({
            key,
            label: (
              <>
                {label} <span className="num">{count}</span>
              </>
            ),
          }))}
          chosen={shown}
          onChoose={(dock) => set({ dock })}
        />
        {shown === 'controls' && (
          <>
            <Input size="small" allowClear className="search" aria-label="Search controls" placeholder="Search" value={wanted} onChange={(e) => setWanted(e.target.value)} />
            <Button size="small" onClick={() => (character.poses.length ? goToPose('neutral') : goTo({}))}>
              All to rest
            </Button>
          </>
        )}
        {shown === 'poses' && character.poses.length > 0 && <PoseFilters character={character} />}
        <span className="gap" />
        {character.poses.length > 0 && (
          <>
            <Strength />
            <Player character={character} />
          </>
        )}
        {character.bones.length > 0 && <KeepPose character={character} />}
        {character.poses.length > 0 && <PoseMenu character={character} />}
      </div>
      {shown === 'poses' && <PoseStrip character={character} />}
      {shown === 'controls' && <ControlsDock character={character} wanted={wanted} />}
      {shown === 'takes' && <TakePlayer character={character} />}
    </div>
  )
}

function Strength() {
  const pose = useBench((s) => s.pose)
  const strength = useBench((s) => s.strength)
  const setStrength = useBench((s) => s.setStrength)
  return (
    <label className="strength">
      <span className="quiet">Strength</span>
      <Slider
        ariaLabelForHandle="Strength of the pose"
        min={0}
        max={1.5}
        step={0.01}
        value={strength}
        disabled={!pose || pose === 'neutral'}
        tooltip={{ open: false }}
        onChange={setStrength}
      />
      <span className="num">{Math.round(strength * 100)} %</span>
    </label>
  )
}
