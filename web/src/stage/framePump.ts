import { fetchFrame, type FrameRequest } from '../api/frames'
import type { StageEngine } from './engine'

const picture = () => new Promise((drawn) => requestAnimationFrame(drawn))

/** Keeps at most one frame request in flight and always asks for the newest state next: a dragged slider never queues. */
export class FramePump {
  private wanted: Omit<FrameRequest, 'known'> | null = null
  private busy = false
  private stopped = false

  constructor(
    private readonly character: number,
    private readonly engine: StageEngine,
    private readonly onShown: (request: Omit<FrameRequest, 'known'>) => void,
    private readonly onRefused: (error: Error) => void,
  ) {}

  ask(request: Omit<FrameRequest, 'known'>) {
    this.wanted = request
    if (!this.busy) void this.run()
  }

  stop() {
    this.stopped = true
  }

  private async run() {
    this.busy = true
    while (this.wanted && !this.stopped) {
      const request = this.wanted
      this.wanted = null
      try {
        const frame = await fetchFrame(this.character, { ...request, known: this.engine.known(request.smooth) })
        if (this.stopped) break
        this.engine.apply(frame, request.smooth)
        this.onShown(request)
        await picture() // another before this one is drawn would be drawn by nobody
      } catch (error) {
        this.onRefused(error as Error)
      }
    }
    this.busy = false
  }
}
