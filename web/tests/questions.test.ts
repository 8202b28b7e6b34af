import { expect, it } from 'vitest'
import { Questions } from '../src/state/questions'

/** A question that is answered when the test says so. */
function held(log: string[], name: string) {
  let answer!: () => void
  const answered = new Promise<void>((done) => (answer = done))
  return { answer, ask: () => (log.push(name), answered) }
}

const rest = () => new Promise((done) => setTimeout(done))

it('has one question under way, then the newest of each asker', async () => {
  const questions = new Questions()
  const log: string[] = []
  const first = held(log, 'pull 1')
  questions.ask('pull', first.ask)
  for (const k of [2, 3, 4]) questions.ask('pull', held(log, `pull ${k}`).ask)
  const cut = held(log, 'cut 1')
  questions.ask('cut', cut.ask)
  expect(log).toEqual(['pull 1'])
  first.answer()
  await rest()
  expect(log).toEqual(['pull 1', 'pull 4'])
})

it('lets nobody who asks all the time keep the others waiting', async () => {
  const questions = new Questions()
  const log: string[] = []
  const first = held(log, 'pull 1')
  questions.ask('pull', first.ask)
  questions.ask('pull', held(log, 'pull 2').ask)
  questions.ask('cut', held(log, 'cut').ask)
  questions.ask('pull', held(log, 'pull 3').ask)
  first.answer()
  await rest()
  expect(log).toEqual(['pull 1', 'cut'])
})

it('goes on after a refusal, and does not ask what is no longer wanted', async () => {
  const questions = new Questions()
  const log: string[] = []
  questions.ask('pull', () => Promise.reject(new Error('out of range')))
  questions.ask('cut', held(log, 'cut').ask)
  questions.ask('curves', held(log, 'curves').ask)
  questions.drop('cut')
  await rest()
  expect(log).toEqual(['curves'])
})
