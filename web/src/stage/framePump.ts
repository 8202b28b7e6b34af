import { fetchFrame, type Frame, type FrameRequest } from '../api/frames'
import type { StageEngine } from './engine'

const picture = () => new Promise((drawn) => requestAnimationFrame(drawn))

/**
 * Keeps at most one frame request in flight and always asks for the newest state next: a dragged slider never queues. The first frame is
 * asked for beside the meshes, and applied once these are `there`.
 */
export class FramePump {
  private wanted: Omit<FrameRequest, 'known'> | null = null
  private busy = false
  private stopped = false
  private loaded = false

  constructor(
    private readonly character: number,
    private readonly engine: StageEngine,
    private readonly there: Promise<void>,
    private readonly onShown: (request: Omit<FrameRequest, 'known'>, frame: Frame) => void,
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
        const known = this.loaded ? this.engine.known(request.smooth) : {}
        const [frame] = await Promise.all([fetchFrame(this.character, { ...request, known }), this.there])
        if (this.stopped) break
        this.loaded = true
        this.engine.apply(frame, request.smooth)
        this.onShown(request, frame)
        await picture() // another before this one is drawn would be drawn by nobody
      } catch (error) {
        this.onRefused(error as Error)
      }
    }
    this.busy = false
  }
}
