import type { Dab, Painted, Painting } from '../../api/paint'
import { shownValues, useBench } from '../../state/bench'
import type { SculptTool } from '../../state/work/shapes'
import type { BrushTool } from '../../state/work/weights'
import type { StageEngine } from '../engine'
import type { Spot } from '../spots'
import { StrokePump } from './strokePump'

const SPACING = 0.25 // of the radius between two dabs
const FINE = 0.02 // cm between two places of a drag
const SIZING = {
  KeyR: { field: 'radius', byPixel: 0.15, low: 1, high: 200 }, // mm
  KeyT: { field: 'strength', byPixel: 0.4, low: 1, high: 100 }, // %
} as const

interface Place {
  x: number
  y: number
}

/** What a stroke is drawn on, and what becomes of it. */
export interface StrokeHost {
  readonly character: { id: number }
  /** The revision to paint on: where something is still being stored, the one that comes of it. */
  revision: () => Promise<number>
  /** Whether a stroke can begin on a part. */
  paintable: (part: string) => boolean
  /** Store what was drawn on a revision. */
  store: (painting: Painting, dabs: Dab[], on: number) => Promise<unknown>
  refused: (error: Error) => void
}

/** Held keys lend another tool: Ctrl takes away instead of adding, Shift smooths. */
const SCULPT_TURNED: Record<SculptTool, SculptTool> = { swell: 'sink', sink: 'swell', move: 'erase', smooth: 'erase', flatten: 'erase', erase: 'smooth' }
const sculptToolOf = (e: PointerEvent, tool: SculptTool): SculptTool => (e.shiftKey ? 'smooth' : e.ctrlKey || e.metaKey ? SCULPT_TURNED[tool] : tool)
const toolOf = (e: PointerEvent, tool: BrushTool): BrushTool => (e.shiftKey ? 'smooth' : e.ctrlKey || e.metaKey ? (tool === 'take' ? 'add' : 'take') : tool)

function paintingOf(part: string): Painting {
  const s = useBench.getState()
  const { radius, strength, value, falloff, through, most, onlySelection } = s.brush
  const common = {
    brush: { radius: radius / 10, strength: strength / 100, value: value / 100, falloff, through, most: most < 100 ? most / 100 : null },
    values: shownValues(s),
    only: onlySelection && s.selection?.part === part ? s.selection.vertices : null,
    mirror: s.mirror,
  }
  if (s.sculpting) return { shape: s.sculpting, part, ...common }
  return s.shownMap && !('shape' in s.shownMap) ? { ...s.shownMap, ...common } : { part, bone: s.weightBone, locked: s.locked, keep_total: s.keepTotal, ...common }
}

/** The pointer as a brush: pressing on a part paints it, pressing beside it turns the camera as always. */
export class BrushPointer {
  private stroke: StrokePump | null = null
  private last: Spot | null = null
  /** Where a stroke that moves took hold. */
  private held: Spot | null = null
  private tool: Dab['tool'] = 'add'
  private part = ''
  private sizing: { from: number; x: number; key: keyof typeof SIZING } | null = null
  private readonly keys = new Set<string>()
  private readonly clock: PaintClock
  /** Where the pointer is on the stage. */
  at: Place | null = null

  constructor(
    private readonly engine: StageEngine,
    private readonly host: () => StrokeHost,
  ) {
    this.clock = new PaintClock(engine.canvas)
  }

  readonly down = (e: PointerEvent) => {
    const { canvas } = this.engine
    if (e.button !== 0 || e.target !== canvas) return
    this.at = this.placeOf(e)
    const key = (['KeyR', 'KeyT'] as const).find((k) => this.keys.has(k))
    if (key) this.sizing = { x: this.at.x, key, from: useBench.getState().brush[SIZING[key].field] }
    else if (!this.begin(e)) return
    canvas.setPointerCapture(e.pointerId)
    e.stopImmediatePropagation()
  }

  readonly move = (e: PointerEvent) => {
    this.at = this.placeOf(e)
    if (this.sizing) this.size(this.sizing, this.at.x)
    this.ring()
    if (this.stroke) this.goOn(e, this.stroke)
    if (this.sizing || this.stroke) e.stopImmediatePropagation()
  }

  readonly up = (e: PointerEvent) => {
    if (!this.sizing && !this.stroke) return
    e.stopImmediatePropagation()
    this.sizing = null
    if (this.stroke) void this.finish(this.stroke)
  }

  readonly left = () => this.engine.showRing(null)

  readonly pressed = (e: KeyboardEvent) => void this.keys.add(e.code)

  readonly released = (e: KeyboardEvent) => void this.keys.delete(e.code)

  /** Draws the ring of the brush where the pointer is. */
  readonly ring = () => {
    const spot = this.at && this.engine.spot(this.at.x, this.at.y)
    this.engine.showRing(spot ? { point: spot.point, radius: useBench.getState().brush.radius / 10 } : null)
  }

  private begin(e: PointerEvent): boolean {
    const spot = this.at && this.engine.spot(this.at.x, this.at.y)
    if (!spot) return false
    const shown = (painted: Painted) => {
      this.engine.paint(spot.part, painted)
      if (painted.missed !== useBench.getState().missed) useBench.setState({ missed: painted.missed })
      this.clock.drawn()
    }
    if (!this.host().paintable(spot.part)) return false
    this.part = spot.part
    this.stroke = new StrokePump(this.host().character.id, this.host().revision(), paintingOf(spot.part), shown)
    this.engine.canvas.dataset.painting = 'true'
    const { sculpting, sculptTool, brush } = useBench.getState()
    this.tool = sculpting ? sculptToolOf(e, sculptTool) : toolOf(e, brush.tool)
    this.held = this.tool === 'move' ? spot : null
    this.dab(spot, e, this.stroke)
    return true
  }

  private goOn(e: PointerEvent, stroke: StrokePump) {
    const spot = this.held ? this.dragged(this.held) : this.at && this.engine.spot(this.at.x, this.at.y)
    if (!spot || !this.last || spot.part !== this.part) return
    const far = Math.hypot(...spot.point.map((c, k) => c - this.last!.point[k]!))
    if (far >= (this.held ? FINE : stroke.painting.brush.radius * SPACING)) this.dab(spot, e, stroke)
  }

  /** Where what is held has been dragged to: beside the place at which it was taken hold of, as seen from here. */
  private dragged(held: Spot): Spot | null {
    const point = this.at && this.engine.pointBeside(held.point, this.at.x, this.at.y)
    return point && { ...held, point }
  }

  private dab(spot: Spot, e: PointerEvent, stroke: StrokePump) {
    const { brush, sculpting, sculptTool } = useBench.getState()
    this.clock.asked()
    const now = sculpting ? sculptToolOf(e, sculptTool) : toolOf(e, brush.tool)
    stroke.add({
      vertex: spot.vertex,
      place: spot.point,
      tool: this.held ? 'move' : now === 'move' ? this.tool : now,
      eye: brush.through ? null : this.engine.eye(),
      pressure: e.pointerType === 'pen' && e.pressure > 0 ? e.pressure : 1,
    })
    this.last = spot
  }

  /** Stores what was drawn as one edit. Whatever comes of it, the stage then asks for what is stored. */
  private async finish(stroke: StrokePump) {
    this.stroke = this.last = this.held = null
    try {
      await stroke.finished()
      await this.host()
        .store(stroke.painting, stroke.dabs, await stroke.revision)
        .catch(() => undefined) // said already by whoever stores
    } catch (error) {
      this.host().refused(error as Error)
    }
    delete this.engine.canvas.dataset.painting
    const { strokes, set } = useBench.getState()
    set({ strokes: strokes + 1 })
  }

  private size({ key, from, x }: { key: keyof typeof SIZING; from: number; x: number }, now: number) {
    const { field, byPixel, low, high } = SIZING[key]
    const { brush, set } = useBench.getState()
    set({ brush: { ...brush, [field]: Math.min(high, Math.max(low, from + (now - x) * byPixel)) } })
  }

  private placeOf(e: PointerEvent): Place {
    const box = this.engine.canvas.getBoundingClientRect()
    return { x: e.clientX - box.left, y: e.clientY - box.top }
  }
}

/** Milliseconds from the pointer to the changed picture, for whoever wants to know: on the canvas as median and 95th percentile. */
class PaintClock {
  private waiting: number[] = []
  private readonly times: number[] = []

  constructor(private readonly canvas: HTMLCanvasElement) {}

  asked() {
    this.waiting.push(performance.now())
  }

  drawn() {
    const now = performance.now()
    this.times.push(...this.waiting.map((t) => now - t))
    this.waiting = []
    const sorted = [...this.times].sort((a, b) => a - b)
    this.canvas.dataset.paintMedian = String(Math.round(sorted[sorted.length >> 1] ?? 0))
    this.canvas.dataset.paintSlow = String(Math.round(sorted[Math.floor(sorted.length * 0.95)] ?? 0))
  }
}
