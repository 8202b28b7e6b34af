import { expect, test } from 'vitest'
import type { Seam } from '../src/api/client'
import { stationOf } from '../src/state/seams'

const seam = (part: Partial<Seam>) => ({ name: 's', label: 'S', ...part }) as Seam

test('a seam over its limit leads to the station that has its repair', () => {
  expect(stationOf(seam({ kind: 'follow', region: 'eyes', measure: 'lag' }))).toBe('binding')
  expect(stationOf(seam({ kind: 'ride', region: 'hair', measure: 'ride' }))).toBe('binding')
  expect(stationOf(seam({ kind: 'apart', region: 'hair', measure: 'clear' }))).toBe('binding')
  expect(stationOf(seam({ kind: 'meet', region: 'eyes', measure: 'solid' }))).toBe('lids')
  expect(stationOf(seam({ kind: 'meet', region: 'mouth', measure: 'patch' }))).toBe('weights')
})
