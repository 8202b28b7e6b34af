import type { CharacterOut } from '../api/client'

/** A part's or bone's name as people read it: "teeth_lower" is "Teeth lower", "eye_L" is "Eye L". */
export function partLabel(name: string): string {
  const plain = name.replaceAll('_', ' ')
  return plain.charAt(0).toUpperCase() + plain.slice(1)
}

export const mm = (value: number) => `${Math.abs(value) >= 10 ? value.toFixed(1) : value.toFixed(2)} mm`
/** How far something lies in another or from it, mm: never a minus. */
export const depthSaid = (depth: number) => (depth > 0 ? `${mm(depth)} deep` : `${mm(-depth)} clear`)
export const percent = (share: number) => `${Math.round(share * 100)} %`

/** "1 vertex", "3 vertices". */
export const counted = (n: number, noun: string, plural = `${noun}s`) => `${n.toLocaleString('en-GB')} ${n === 1 ? noun : plural}`

const LID = /^lid_(upper|lower)_([LRC])$/
const MOUTH = /^(seal|corner)_([LR])$/

/** What a link drives, as people read it: by the label of the shape, bone, relief or control, or by what a lid or the lips are called. */
export function targetLabel(character: Pick<CharacterOut, 'shapes' | 'bones' | 'controls'>, kind: string, target: string): string {
  const lid = LID.exec(target)
  if (kind === 'lid' && lid) return `${lid[1] === 'upper' ? 'Upper' : 'Lower'} lid ${lid[2]}`
  const mouth = MOUTH.exec(target)
  if (mouth) return mouth[1] === 'seal' ? `Lip seal ${mouth[2]}` : `Mouth corner ${mouth[2]}`
  const things = kind === 'shape' ? character.shapes : kind === 'bone' ? character.bones : kind === 'control' ? character.controls : []
  return things.find((x) => x.name === target)?.label ?? partLabel(target)
}
