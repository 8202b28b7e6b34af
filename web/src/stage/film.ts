import { saveBlob } from '../ui/saveBlob'
import type { StageEngine } from './engine'

const RATE = 30 // frames a second
const ROUND = 6 // seconds of a turntable
const TYPES = ['video/webm;codecs=vp9', 'video/webm;codecs=vp8', 'video/webm', 'video/mp4']

/** Saves what the stage shows as a picture. */
export function saveStill(engine: StageEngine, name: string) {
  engine.canvas.toBlob((blob) => blob && saveBlob(blob, `${name}.png`), 'image/png')
}

/** Can this browser record what is drawn? */
export const canFilm = () => typeof MediaRecorder !== 'undefined' && TYPES.some((type) => MediaRecorder.isTypeSupported(type))

/** Records the stage until the returned function is called, which saves the film. */
export function startFilm(canvas: HTMLCanvasElement, name: string): () => void {
  const type = TYPES.find((t) => MediaRecorder.isTypeSupported(t)) ?? ''
  const recorder = new MediaRecorder(canvas.captureStream(RATE), { mimeType: type, videoBitsPerSecond: 8_000_000 })
  const pieces: Blob[] = []
  recorder.ondataavailable = (e) => void pieces.push(e.data)
  recorder.onstop = () => saveBlob(new Blob(pieces, { type }), `${name}.${type.includes('mp4') ? 'mp4' : 'webm'}`)
  recorder.start()
  return () => recorder.state !== 'inactive' && recorder.stop()
}

/** Turns the camera once round the head and saves that as a film. */
export async function saveTurntable(engine: StageEngine, name: string): Promise<void> {
  const stop = startFilm(engine.canvas, `${name} turntable`)
  await new Promise<void>((done) => {
    const begun = performance.now()
    let turned = 0
    const step = () => {
      const to = Math.min(1, (performance.now() - begun) / 1000 / ROUND) * 360
      engine.turn(to - turned, 0)
      turned = to
      if (to < 360) requestAnimationFrame(step)
      else done()
    }
    requestAnimationFrame(step)
  })
  stop()
}
