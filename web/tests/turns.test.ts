import { expect, it } from 'vitest'
import { Turns } from '../src/state/turns'

/** A change that ends when it is told to. */
function slow() {
  let end!: () => void
  const ended = new Promise<void>((done) => (end = done))
  return { end, run: (log: string[], name: string) => async () => (log.push(`${name} begins`), await ended, log.push(`${name} ends`), name) }
}

it('runs changes of a character in the order in which they were asked for', async () => {
  const turns = new Turns()
  const log: string[] = []
  const [a, b] = [slow(), slow()]
  const first = turns.take(1, a.run(log, 'a'))
  const second = turns.take(1, b.run(log, 'b'))
  b.end()
  await Promise.resolve()
  expect(log).not.toContain('b begins')
  a.end()
  expect(await first).toBe('a')
  expect(await second).toBe('b')
  expect(log).toEqual(['a begins', 'a ends', 'b begins', 'b ends'])
})

it('does not let one character wait for another', async () => {
  const turns = new Turns()
  void turns.take(1, () => new Promise(() => undefined))
  expect(await turns.take(2, async () => 'done')).toBe('done')
})

it('goes on after one that failed, and is settled then', async () => {
  const turns = new Turns()
  const failed = turns.take(1, () => Promise.reject(new Error('refused')))
  const after = turns.take(1, async () => 'done')
  await expect(failed).rejects.toThrow('refused')
  await turns.settled(1)
  expect(await after).toBe('done')
})

it('refuses what waited behind a change that found another state, and nothing that is asked for afterwards', async () => {
  const turns = new Turns()
  const stale = turns.take(1, async () => {
    turns.breakOff(1)
    throw new Error('stale')
  })
  const waited = turns.take(1, async () => 'never')
  await expect(stale).rejects.toThrow('stale')
  await expect(waited).rejects.toThrow('Look again')
  expect(await turns.take(1, async () => 'done')).toBe('done')
})
