import { Select } from 'antd'
import { useEffect, useRef, type ReactNode } from 'react'
import type { CharacterOut } from '../api/client'
import { shownTint, useBench } from '../state/bench'
import { Effects } from './Effects'
import type { StageEngine } from './engine'
import { TintLegend } from './TintLegend'

const LONGEST = 110 // px of the scale
const LENGTHS = [100, 50, 20, 10, 5, 2, 1] // mm

interface Props {
  engine: StageEngine | null
  character: CharacterOut
  /** What is drawn, or what is under the pointer. */
  said: ReactNode
}

/** A line under the stage: what is drawn, what colours stand for, what the last edit did, how large things are. */
export function StageFoot({ engine, character, said }: Props) {
  return (
    <div className="stage-foot">
      <span className="quiet" data-testid="hover">
        {said}
      </span>
      <WeightLegend character={character} />
      <TintLegend />
      <Effects />
      <span className="gap" />
      <Scale engine={engine} />
    </div>
  )
}

/** The bone whose weights are shown, and the ramp they are shown in. */
function WeightLegend({ character }: { character: CharacterOut }) {
  const shown = useBench((s) => s.display.weights)
  const tinted = useBench((s) => shownTint(s) !== null) // then the colours are no weights
  const bone = useBench((s) => s.weightBone)
  const set = useBench((s) => s.set)
  if (!shown || tinted || !character.bones.length) return null
  const carriers = new Set(character.parts.flatMap((p) => p.influences.map((i) => i.bone)))
  return (
    <span className="legend" role="group" aria-label="Legend of weights">
      <Select
        size="small"
        variant="borderless"
        aria-label="Bone whose weights are shown"
        value={bone}
        popupMatchSelectWidth={false}
        onChange={(weightBone) => set({ weightBone })}
        options={character.bones.filter((b) => carriers.has(b.name)).map((b) => ({ value: b.name, label: b.label }))}
      />
      <span className="num">0</span>
      <i className="ramp" />
      <span className="num">1</span>
      <i className="hatch" title="Hatched: the weights do not add up to 1" />
    </span>
  )
}

/** A round length as it is at the middle of what is looked at. */
function Scale({ engine }: { engine: StageEngine | null }) {
  const bar = useRef<HTMLSpanElement>(null)
  useEffect(
    () =>
      engine?.watch(() => {
        const pixel = engine.pixelAt(engine.target()) * 10 // mm
        const mm = LENGTHS.find((length) => length / pixel <= LONGEST) ?? 1
        if (!bar.current || !Number.isFinite(pixel)) return
        bar.current.style.width = `${mm / pixel}px`
        bar.current.dataset.mm = `${mm} mm`
      }),
    [engine],
  )
  return <span className="scale num" ref={bar} aria-hidden />
}
