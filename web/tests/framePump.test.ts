import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import type { Frame, FrameRequest } from '../src/api/frames'
import type { StageEngine } from '../src/stage/engine'
import { FramePump } from '../src/stage/framePump'

const asked: FrameRequest[] = []
vi.mock('../src/api/frames', () => ({
  fetchFrame: (_id: number, request: FrameRequest) => {
    asked.push(request)
    return Promise.resolve({ revision: request.revision } as Frame)
  },
}))

const request = (open: number): Omit<FrameRequest, 'known'> => ({ revision: 1, values: { open }, overdrive: false, smooth: false, weights_of: null })
/** Until nothing waits any more: drawings of the screen too, on a clock of the test's own. */
const rest = () => vi.runAllTimersAsync()

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout'] })
  vi.stubGlobal('requestAnimationFrame', (drawn: () => void) => setTimeout(drawn))
  asked.splice(0)
})
afterEach(() => vi.useRealTimers())

/** An engine that still shows another mesh, and notes what it is given. */
function engine() {
  const applied: Frame[] = []
  return { applied, engine: { known: () => ({ skin: 7 }), apply: (frame: Frame) => applied.push(frame) } as unknown as StageEngine }
}

it('asks for the first frame beside the meshes, as of one that shows nothing, and applies it once they are there', async () => {
  let arrive!: () => void
  const there = new Promise<void>((done) => (arrive = done))
  const { applied, engine: stage } = engine()
  const shown: number[] = []
  const pump = new FramePump(1, stage, there, (r) => shown.push(r.values.open!), () => {})
  pump.ask(request(0.1))
  pump.ask(request(0.2))
  pump.ask(request(0.3))
  await rest()
  expect(asked.map((r) => r.known)).toEqual([{}])
  expect(applied).toEqual([])
  arrive()
  await rest()
  expect(shown).toEqual([0.1, 0.3]) // the newest, and none in between
  expect(asked.map((r) => r.known)).toEqual([{}, { skin: 7 }])
})

it('says it when the meshes do not come, and applies nothing', async () => {
  const { applied, engine: stage } = engine()
  const said: string[] = []
  const pump = new FramePump(1, stage, Promise.reject(new Error('Not there.')), () => {}, (error) => said.push(error.message))
  pump.ask(request(0.1))
  await rest()
  expect(said).toEqual(['Not there.'])
  expect(applied).toEqual([])
})
