import type { CharacterOut } from '../api/client'
import { fetchFrame, type Frame } from '../api/frames'
import { useBench } from '../state/bench'
import { strengthOf } from '../state/known'
import type { StageEngine } from './engine'
import { keepPicture, keptPictures, pictureKeyOf } from './keptPictures'
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

const MOST_AT_ONCE = 5 // pictures

/** Draws what has been fetched in a few goes, so that the stage is not drawn over again after each picture; the very first at once. */
class Darkroom {
  private waiting: { key: string; frame: Frame }[] = []
  private done = 0

  constructor(
    private readonly engine: StageEngine,
    private readonly view: View,
    private readonly unhurried: boolean,
    private readonly deliver: (key: string, frame: Frame, picture: string) => void,
  ) {}

  async add(key: string, frame: Frame) {
    this.waiting.push({ key, frame })
    if ((!this.done && !this.unhurried) || this.waiting.length >= MOST_AT_ONCE) await this.develop()
  }

  async develop() {
    const some = this.waiting
    this.waiting = []
    if (!some.length) return
    const begun = performance.now()
    const pictures = this.engine.picturesOf(some.map((s) => s.frame), this.view)
    some.forEach((s, k) => this.deliver(s.key, s.frame, pictures[k]!))
    if (this.unhurried) await pause(begun)
    this.done += some.length
  }
}

const keyOf = (character: CharacterOut, pose: CharacterOut['poses'][number]) => pictureKeyOf(character.drawn, JSON.stringify(pose.values))

const show = (pose: string, key: string, picture: string) => useBench.setState((s) => ({ thumbnails: { ...s.thumbnails, [pose]: { key, picture } } }))

const missing = (character: CharacterOut) => {
  const have = useBench.getState().thumbnails
  return character.poses.map((pose) => ({ pose, key: keyOf(character, pose) })).filter(({ pose, key }) => have[pose.name]?.key !== key)
}

/** Show the pictures of poses that were drawn before: after a reload, an undo, on coming back to a head. */
export async function showKeptThumbnails(character: CharacterOut, state: { gone: boolean }): Promise<void> {
  const wanted = missing(character)
  const found = await keptPictures(wanted.map((w) => w.key))
  if (state.gone) return
  wanted.forEach(({ pose, key }, k) => found[k] && show(pose.name, key, found[k]))
}

/** Take a picture of each pose of the strip that looks otherwise than on its last one. */
export async function takeThumbnails(engine: StageEngine, character: CharacterOut, state: { gone: boolean }): Promise<void> {
  const seen = pictured.get(engine) ?? new Map<string, Record<string, number>>()
  pictured.set(engine, seen)
  const have = useBench.getState().thumbnails
  const keys = new Map(character.poses.map((p) => [p.name, keyOf(character, p)]))
  const deliver = (pose: string, picture: string) => {
    show(pose, keys.get(pose)!, picture)
    void keepPicture(keys.get(pose)!, picture)
  }
  const darkroom = new Darkroom(engine, portraitOf(character), Object.keys(have).length > 0, (name, frame, picture) => {
    seen.set(`${character.id} ${name}`, Object.fromEntries(Object.entries(frame.parts).map(([part, p]) => [part, p.digest ?? -1])))
    deliver(name, picture)
  })
  for (const { pose } of missing(character)) {
    const known = have[pose.name] ? (seen.get(`${character.id} ${pose.name}`) ?? {}) : {}
    let frame = await frameOf(character, pose.values, known)
    if (state.gone) return
    if (!frame) continue
    if (!Object.keys(frame.parts).length) {
      deliver(pose.name, have[pose.name]!.picture) // nothing of it has moved
      continue
    }
    if (Object.keys(known).length) frame = await frameOf(character, pose.values) // the picture needs all parts
    if (state.gone) return
    if (frame) await darkroom.add(pose.name, frame)
    if (state.gone) return
  }
  await darkroom.develop()
}

/** The face in some pose. */
export async function pictureOf(engine: StageEngine, character: CharacterOut, values: Record<string, number>, state: { gone: boolean }): Promise<string | null> {
  const frame = await frameOf(character, values)
  return frame && !state.gone ? engine.picturesOf([frame], portraitOf(character))[0]! : null
}

/** Under which key the picture of a shape is kept: another one once the shape is another. */
export const pictureKey = (shape: CharacterOut['shapes'][number]) => `${shape.name} ${shape.digest}`

/** A shape at full strength, with how far each vertex goes in parts of the farthest. */
const shapeFrame = (character: CharacterOut, shape: string) =>
  fetchFrame(character.id, {
    revision: character.revision.number,
    values: { [strengthOf(shape)]: 1 },
    overdrive: false,
    smooth: false,
    weights_of: null,
    shape_of: { shape, below: 0 },
    known: {},
  }).catch(() => null)

/** Take a picture of each shape by itself that has none yet: cropped to what it moves, and tinted by how far. */
export async function takeShapePictures(engine: StageEngine, character: CharacterOut, state: { gone: boolean }): Promise<void> {
  for (const shape of character.shapes) {
    const key = pictureKey(shape)
    if (useBench.getState().shapePictures[key]) continue
    const begun = performance.now()
    const frame = await shapeFrame(character, shape.name)
    if (state.gone) return
    if (!frame) continue
    const [picture] = engine.picturesOf([frame], croppedTo(frame, portraitOf(character)), 'weights')
    useBench.setState((s) => ({ shapePictures: { ...s.shapePictures, [key]: picture! } }))
    await pause(begun)
    if (state.gone) return
  }
}

const MOVES = 0.15 // of the farthest vertex from where one counts as moved
const ROOM = 2.6 // times the reach of what moves that the picture shows

/** The usual view, nearer: so that what a shape moves fills the picture. */
function croppedTo(frame: Frame, usual: View): View {
  const low = [Infinity, Infinity, Infinity]
  const high = [-Infinity, -Infinity, -Infinity]
  for (const [name, { own }] of Object.entries(frame.weights ?? {}))
    own.forEach((share, v) => {
      if (share < MOVES) return
      for (let k = 0; k < 3; k++) {
        const x = frame.parts[name]!.points[v * 3 + k]!
        low[k] = Math.min(low[k]!, x)
        high[k] = Math.max(high[k]!, x)
      }
    })
  if (!Number.isFinite(low[0]!)) return usual
  const reach = Math.max(high[0]! - low[0]!, high[1]! - low[1]!, 2)
  return { ...usual, target: [0, 1, 2].map((k) => (low[k]! + high[k]!) / 2) as View['target'], distance: Math.min(usual.distance, reach * ROOM) }
}
