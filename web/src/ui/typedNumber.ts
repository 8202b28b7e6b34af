const FORM = /^\s*([+-]?\d+(?:[.,]\d+)?)\s*(\S.*?)?\s*$/
const LENGTHS: Record<string, number> = { mm: 1, cm: 10, m: 1000 }

/** The number somebody typed, with or without its unit; null where it cannot be one. "40 %" of a plain range is 0.4, "0.1 cm" is 1 mm. */
export function parseTyped(text: string, unit: string): number | null {
  const found = FORM.exec(text)
  if (!found) return null
  const value = Number(found[1]!.replace(',', '.'))
  const given = found[2] === 'deg' ? '°' : (found[2] ?? unit)
  if (given === unit) return value
  if (given === '%' && unit === '') return value / 100
  const [from, to] = [LENGTHS[given], LENGTHS[unit]]
  return from && to ? (value * from) / to : null
}

/** A number as a field shows it. */
export function shown(value: number, unit: string): string {
  if (unit === '°') return `${Number(value.toFixed(1))}°`
  if (unit === '%') return `${Math.round(value)} %`
  return unit ? `${Number(value.toFixed(3))} ${unit}` : value.toFixed(2)
}
