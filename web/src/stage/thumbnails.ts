import type { CharacterOut } from '../api/client'
import { fetchFrame } from '../api/frames'
import { useBench } from '../state/bench'
import type { StageEngine } from './engine'
import { viewOf } from './views'

const CLOSE = 0.74 // the face, not the whole head

/** By pose, the digests of what its last picture shows: a pose that an edit leaves alone needs no new one. */
const pictured = new WeakMap<StageEngine, Map<string, Record<string, number>>>()

/** Take a picture of each pose of the strip that looks otherwise than on its last one. */
export async function takeThumbnails(engine: StageEngine, character: CharacterOut, state: { gone: boolean }): Promise<void> {
  const view = viewOf('front', character)
  const [x, y, z] = view.target
  const face: [number, number, number] = [x, y - 2.2, z]
  const portrait = { ...view, azimuth: view.azimuth + 14, distance: view.distance * CLOSE, target: face }
  const seen = pictured.get(engine) ?? new Map<string, Record<string, number>>()
  pictured.set(engine, seen)
  const have = useBench.getState().thumbnails
  for (const pose of character.poses) {
    const key = `${character.id} ${pose.name}`
    const known = have[pose.name] ? (seen.get(key) ?? {}) : {}
    const ask = (known: Record<string, number>) =>
      fetchFrame(character.id, { revision: character.revision.number, values: pose.values, overdrive: false, smooth: false, weights_of: null, known }).catch(() => null)
    let frame = await ask(known)
    if (state.gone) return
    if (!frame || !Object.keys(frame.parts).length) continue
    if (Object.keys(known).length) frame = await ask({}) // the picture needs all parts
    if (state.gone) return
    if (!frame) continue
    const begun = performance.now()
    const picture = engine.pictureOf(frame, portrait)
    seen.set(key, Object.fromEntries(Object.entries(frame.parts).map(([name, part]) => [name, part.digest ?? -1])))
    useBench.setState((s) => ({ thumbnails: { ...s.thumbnails, [pose.name]: picture } }))
    // where drawing is slow, somebody at work gets as much of the time as the pictures do
    if (have[pose.name]) await new Promise((done) => setTimeout(done, performance.now() - begun))
  }
}
