import type { CharacterOut } from '../api/client'
import { fetchFrame } from '../api/frames'
import { useBench } from '../state/bench'
import type { StageEngine } from './engine'
import { viewOf } from './views'

const CLOSE = 0.74 // the face, not the whole head

/** Take a picture of each pose of the strip; calls `onDone` when the true meshes may be overwritten again. */
export async function takeThumbnails(engine: StageEngine, character: CharacterOut, state: { gone: boolean }, onDone: () => void): Promise<void> {
  const view = viewOf('front', character)
  const [x, y, z] = view.target
  const face: [number, number, number] = [x, y - 2.2, z]
  const portrait = { ...view, azimuth: view.azimuth + 14, distance: view.distance * CLOSE, target: face }
  const revision = character.revision.number
  for (const pose of character.poses) {
    const request = { revision, values: pose.values, overdrive: false, smooth: false, weights_of: null, known: engine.known(false) }
    const frame = await fetchFrame(character.id, request).catch(() => null)
    if (state.gone) return
    if (!frame) continue
    const picture = engine.pictureOf(frame, portrait)
    useBench.setState((s) => ({ thumbnails: { ...s.thumbnails, [pose.name]: picture } }))
  }
  onDone()
}
