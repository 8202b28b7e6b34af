import { useEffect } from 'react'
import type { CharacterOut, Check, PreviewOut } from '../api/client'
import { useBench } from '../state/bench'
import { tokens } from '../theme/tokens'
import type { StageEngine } from './engine'

/** Marks on the stage what the open check speaks of, and draws what a previewed repair would move. */
export function useMarks(engine: StageEngine | null, ready: boolean, character: CharacterOut, check: Check | null, preview: PreviewOut | null, station: string) {
  const selection = useBench((s) => s.selection)
  const trial = useBench((s) => s.trial)
  const selectedPart = useBench((s) => s.selectedPart)
  useEffect(() => {
    if (!engine || !ready) return
    if (trial) return engine.markVertices([], tokens.saffron) // arrows and colours tell what it is about
    const riding = station === 'binding' ? character.parts.find((p) => p.name === selectedPart && p.rides_on) : undefined
    if (riding && !selection) return engine.markVertices([{ part: riding.rides_on!, vertices: riding.roots }], tokens.spruce)
    if (station === 'weights' || station === 'binding' || station === 'lids') return engine.markVertices(selection ? [selection] : [], tokens.saffron)
    // where a part as a whole is meant its wires say so; dots would only cover it
    const whole = new Map(character.parts.map((p) => [p.name, p.vertices]))
    const places = (check?.places ?? []).filter((p) => p.vertices.length !== whole.get(p.part))
    const single = (check?.marks ?? []).map((m) => ({ part: m.part, vertices: [m.vertex] }))
    engine.markVertices([...places, ...single], check?.verdict === 'fault' ? tokens.madder : tokens.saffron)
  }, [engine, ready, station, selection, selectedPart, character.parts, check, trial])
  const alone = useBench((s) => s.alone)
  useEffect(() => {
    if (engine && ready) engine.isolate(alone)
  }, [engine, ready, alone])
  const arrows = useBench((s) => s.arrows)
  useEffect(() => {
    // what a repair would do goes before what moves things now
    if (engine && ready) engine.showArrows(trial ? trial.arrows : arrows)
  }, [engine, ready, arrows, trial])
  useEffect(() => {
    if (engine && ready) engine.thread(preview ? preview.parts.flatMap((p) => p.lines) : [])
  }, [engine, ready, preview])
}
