import type { CharacterOut } from '../api/client'
import { channelsOf } from '../stage/tools/handle'
import { strengthOf } from '../state/known'

type Rig = Pick<CharacterOut, 'controls' | 'bones' | 'shapes'>

/** A control by its label; "Jaw turned about x" and "Strength of Smile" what bones and shapes have of their own. */
export function channelLabel({ controls, bones, shapes }: Rig, name: string): string {
  const control = controls.find((c) => c.name === name)
  if (control) return control.label
  const bone = bones.find((b) => name.startsWith(`${b.name}.turn_`) || name.startsWith(`${b.name}.move_`))
  if (bone) return `${bone.label} ${name.includes('.turn_') ? 'turned about' : 'moved along'} ${name.at(-1)}`
  const shape = shapes.find((s) => strengthOf(s.name) === name)
  return shape ? `Strength of ${shape.label}` : name
}

/** How far it goes, and its unit. */
export function spanOf({ controls, bones }: Rig, name: string): [number, number, string] {
  const control = controls.find((c) => c.name === name)
  if (control) return [control.low, control.high, control.unit ?? '']
  const channel = bones.flatMap(channelsOf).find((c) => c.name === name)
  return channel ? [channel.low, channel.high, channel.kind === 'turn' ? '°' : 'cm'] : [-1, 1, '']
}
