import type { CharacterOut } from '../api/client'
import { fetchFrame } from '../api/frames'
import { strengthOf, useBench } from '../state/bench'
import type { StageEngine } from './engine'
import { viewOf, type View } from './views'

const CLOSE = 0.74 // the face, not the whole head

/** By pose, the digests of what its last picture shows: a pose that an edit leaves alone needs no new one. */
const pictured = new WeakMap<StageEngine, Map<string, Record<string, number>>>()

function portraitOf(character: CharacterOut): View {
  const view = viewOf('front', character)
  const [x, y, z] = view.target
  return { ...view, azimuth: view.azimuth + 14, distance: view.distance * CLOSE, target: [x, y - 2.2, z] }
}

const frameOf = (character: CharacterOut, values: Record<string, number>, known: Record<string, number> = {}) =>
  fetchFrame(character.id, { revision: character.revision.number, values, overdrive: false, smooth: false, weights_of: null, known }).catch(() => null)

/** Where drawing is slow, somebody at work gets as much of the time as the pictures do. */
const pause = (begun: number) => new Promise((done) => setTimeout(done, performance.now() - begun))

/** Take a picture of each pose of the strip that looks otherwise than on its last one. */
export async function takeThumbnails(engine: StageEngine, character: CharacterOut, state: { gone: boolean }): Promise<void> {
  const portrait = portraitOf(character)
  const seen = pictured.get(engine) ?? new Map<string, Record<string, number>>()
  pictured.set(engine, seen)
  const have = useBench.getState().thumbnails
  for (const pose of character.poses) {
    const key = `${character.id} ${pose.name}`
    const known = have[pose.name] ? (seen.get(key) ?? {}) : {}
    let frame = await frameOf(character, pose.values, known)
    if (state.gone) return
    if (!frame || !Object.keys(frame.parts).length) continue
    if (Object.keys(known).length) frame = await frameOf(character, pose.values) // the picture needs all parts
    if (state.gone) return
    if (!frame) continue
    const begun = performance.now()
    const picture = engine.pictureOf(frame, portrait)
    seen.set(key, Object.fromEntries(Object.entries(frame.parts).map(([name, part]) => [name, part.digest ?? -1])))
    useBench.setState((s) => ({ thumbnails: { ...s.thumbnails, [pose.name]: picture } }))
    if (have[pose.name]) await pause(begun)
  }
}

/** Under which key the picture of a shape is kept: another one once the shape is another. */
export const pictureKey = (shape: CharacterOut['shapes'][number]) => `${shape.name} ${shape.digest}`

/** Take a picture of each shape by itself that has none yet. */
export async function takeShapePictures(engine: StageEngine, character: CharacterOut, state: { gone: boolean }): Promise<void> {
  const portrait = portraitOf(character)
  for (const shape of character.shapes) {
    const key = pictureKey(shape)
    if (useBench.getState().shapePictures[key]) continue
    const frame = await frameOf(character, { [strengthOf(shape.name)]: 1 })
    if (state.gone) return
    if (!frame) continue
    const begun = performance.now()
    const picture = engine.pictureOf(frame, portrait)
    useBench.setState((s) => ({ shapePictures: { ...s.shapePictures, [key]: picture } }))
    await pause(begun)
  }
}
