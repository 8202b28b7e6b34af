import type { CharacterOut } from '../api/client'
import { fetchFrame } from '../api/frames'
import { shownValues, useBench } from '../state/bench'
import type { StageEngine } from './engine'
import type { FramePump } from './framePump'
import { viewOf } from './views'

const CLOSE = 0.74 // the face, not the whole head

/** Draw each pose of the strip once on the stage, take its picture, and put the present pose back. */
export async function takeThumbnails(
  engine: StageEngine,
  character: CharacterOut,
  state: { gone: boolean },
  pump: () => FramePump | null,
): Promise<void> {
  const view = viewOf('front', character)
  const [x, y, z] = view.target
  const face: [number, number, number] = [x, y - 2.2, z]
  const portrait = { ...view, azimuth: 14, distance: view.distance * CLOSE, target: face }
  for (const pose of character.poses) {
    if (state.gone) return
    const smooth = useBench.getState().display.smooth
    const revision = character.revision.number
    const request = { revision, values: pose.values, overdrive: false, smooth, weights_of: null }
    const frame = await fetchFrame(character.id, { ...request, known: engine.known(smooth) }).catch(() => null)
    if (state.gone || !frame) return
    engine.apply(frame, smooth)
    const picture = engine.picture(portrait)
    useBench.setState((s) => ({ thumbnails: { ...s.thumbnails, [pose.name]: picture } }))
    const now = useBench.getState()
    const back = { ...request, values: shownValues(now), overdrive: now.strength > 1, smooth: now.display.smooth }
    pump()?.ask(back)
    // let the stage show the present pose before the next picture is taken
    await new Promise((done) => requestAnimationFrame(() => setTimeout(done, 0)))
  }
}
