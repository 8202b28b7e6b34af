import { expect, it } from 'vitest'
import { refusal, refusedBy } from '../src/api/http'

it('is stale where another revision came in between, and only there', () => {
  expect(refusedBy({ message: 'The character has changed since.', head: 3, changed: [] }, '')).toMatchObject({ message: 'The character has changed since.', stale: true })
  expect(refusedBy({ message: 'Stopped. Nothing was stored.', head: null, changed: [] }, '')).toMatchObject({ message: 'Stopped. Nothing was stored.', stale: false })
})

it('says something where the server says nothing', async () => {
  expect((await refusal(new Response('', { status: 413 }))).message).toContain('too large')
  expect((await refusal(new Response('<html>', { status: 502 }))).message).toContain('502')
})
