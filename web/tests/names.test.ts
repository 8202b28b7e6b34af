import { describe, expect, it } from 'vitest'
import { targetLabel } from '../src/ui/names'

const character = {
  shapes: [{ name: 'grin', label: 'Wide grin' }],
  bones: [{ name: 'tongue_1', label: 'Tongue 1' }],
  controls: [{ name: 'jaw_open', label: 'Jaw open' }],
} as never

describe('what a link drives', () => {
  it('is called as people read it, never by a name of the document', () => {
    const said = (kind: string, target: string) => targetLabel(character, kind, target)
    expect(said('shape', 'grin')).toBe('Wide grin')
    expect(said('bone', 'tongue_1')).toBe('Tongue 1')
    expect(said('control', 'jaw_open')).toBe('Jaw open')
    expect(said('lid', 'lid_upper_L')).toBe('Upper lid L')
    expect(said('seal', 'seal_R')).toBe('Lip seal R')
    expect(said('corner', 'corner_L')).toBe('Mouth corner L')
    expect(said('relief', 'cheek_lower_L')).toBe('Cheek lower L')
  })
})
