import { describe, expect, it } from 'vitest'
import { copied, filledDown, pasted, spans, typedWeight } from '../src/stations/weights/sheet/block'

const vertices = [7, 11, 42]
const bones = ['head', 'jaw', 'neck_1']
const labels = ['Head', 'Jaw', 'Neck 1']
const named = (label: string) => bones[labels.indexOf(label)]
const weights = [
  [0.5, 0.5, 0],
  [0.2, 0.3, 0.5],
  [1, 0, 0],
]
const at = (row: number, column: number) => ({ from: { row, column }, to: { row, column } })

it('fills the first row of a range down, whichever end it was drawn from', () => {
  const rows = vertices.map((vertex, k) => ({ vertex, weights: weights[k]! }))
  const range = { from: { row: 2, column: 1 }, to: { row: 0, column: 0 } }
  expect(filledDown(range, rows, bones)).toEqual({ vertices, bones: ['head', 'jaw'], weights: [[0.5, 0.5], [0.5, 0.5], [0.5, 0.5]] })
})

describe('a pasted block', () => {
  it('fills from the picked cell on', () => {
    expect(pasted('0.1\t20 %\n,4\t0', at(1, 0), vertices, bones, named)).toBe('The table holds something that is no weight from 0 to 1.')
    expect(pasted('0.1\t20 %\n0,4\t0', at(1, 0), vertices, bones, named)).toEqual({ vertices: [11, 42], bones: ['head', 'jaw'], weights: [[0.1, 0.2], [0.4, 0]] })
  })

  it('with a header goes by names and numbers, and leaves the total out', () => {
    const text = 'vertex\tJaw\tHead\ttotal\r\n42\t0.4\t0.6\t1\r\n'
    expect(pasted(text, at(0, 0), vertices, bones, named)).toEqual({ vertices: [42], bones: ['jaw', 'head'], weights: [[0.4, 0.6]] })
  })

  it.each([
    ['vertex\tEar\n42\t1', 'There is no bone called “Ear” here.'],
    ['vertex\tJaw\nnine\t1', 'A row of the table does not begin with a vertex number.'],
    ['1.5', 'The table holds something that is no weight from 0 to 1.'],
    ['', 'The table holds something that is no weight from 0 to 1.'],
  ])('%j is refused in words', (text, said) => expect(pasted(text, at(0, 0), vertices, bones, named)).toBe(said))

  it('comes back from the whole table as it was copied', () => {
    const text = copied(vertices, labels, weights, null)
    expect(text.split('\n')[0]).toBe('vertex\tHead\tJaw\tNeck 1\ttotal')
    expect(pasted(text, at(0, 0), vertices, bones, named)).toEqual({ vertices, bones, weights })
  })

  it('comes back from a range drawn in any direction', () => {
    const range = { from: { row: 2, column: 1 }, to: { row: 1, column: 0 } }
    expect(spans(range)).toEqual({ top: 1, bottom: 2, left: 0, right: 1 })
    expect(copied(vertices, labels, weights, range)).toBe('0.2\t0.3\n1\t0')
  })
})

it.each([['0.4', 0.4], ['40 %', 0.4], ['1', 1], ['1.01', null], ['-0.1', null], ['x', null]])('%s typed as a weight is %s', (text, value) =>
  expect(typedWeight(text)).toBe(value),
)
