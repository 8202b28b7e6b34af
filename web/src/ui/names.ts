/** A part's or bone's name as people read it: "teeth_lower" is "Teeth lower", "eye_L" is "Eye L". */
export function partLabel(name: string): string {
  const plain = name.replaceAll('_', ' ')
  return plain.charAt(0).toUpperCase() + plain.slice(1)
}

export const mm = (value: number) => `${Math.abs(value) >= 10 ? value.toFixed(1) : value.toFixed(2)} mm`
export const percent = (share: number) => `${Math.round(share * 100)} %`

/** "1 vertex", "3 vertices". */
export const counted = (n: number, noun: string, plural = `${noun}s`) => `${n.toLocaleString('en-GB')} ${n === 1 ? noun : plural}`
