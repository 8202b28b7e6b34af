import { expect, it } from 'vitest'
import { byColour } from '../src/stage/byColour'

const red = [1, 0, 0]
const blue = [0, 0, 1]

it('shares vertices between triangles of one colour and none between two', () => {
  const triangles = Uint32Array.from([0, 1, 2, 0, 2, 3, 3, 2, 4])
  const { owners, index, colours } = byColour(triangles, Float32Array.from([...red, ...red, ...blue]))
  expect(owners.length).toBe(4 + 3)
  expect(Array.from(index, (i) => owners[i])).toEqual([...triangles])
  expect([...index].slice(0, 6).some((i) => [...index].slice(6).includes(i))).toBe(false)
  index.forEach((i, corner) => expect([...colours.subarray(i * 3, i * 3 + 3)]).toEqual(corner < 6 ? red : blue))
})

it('draws every triangle of the same colour with the vertices of the mesh', () => {
  const triangles = Uint32Array.from(Array.from({ length: 300 }, (_, k) => (k * 7) % 40))
  const { owners, index } = byColour(triangles, new Float32Array(300).fill(0.5))
  expect(new Set(owners).size).toBe(owners.length)
  expect(Array.from(index, (i) => owners[i])).toEqual([...triangles])
})
