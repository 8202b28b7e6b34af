import { expect, test } from 'vitest'
import { nameIn } from '../src/api/disposition'

test('a file is saved under the name it was given, in whatever letters', () => {
  expect(nameIn('attachment; filename="Maren package.zip"')).toBe('Maren package.zip')
  expect(nameIn("attachment; filename*=utf-8''Z%C3%A4hne.zip")).toBe('Zähne.zip')
  expect(nameIn('attachment; filename="a \\"b\\".obj"')).toBe('a "b".obj')
  expect(nameIn('attachment')).toBeUndefined()
})
