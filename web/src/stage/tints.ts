const STRAY = 0.01 // of the vertices that differ: so few do not take the colour from all others
const DIFFERS = 1e-3 // mm or %
const ROUNDING = 1e-6
const SMALLEST = -3 // on the ladder of scales, which is a tenth

type Differences = Record<string, Float32Array>

/** How large some differences by part are, as 1, 2 or 5 times a power of ten: what the full colour stands for. */
export function roundTop(differences: Differences): number {
  const parts = Object.values(differences)
  const above = (least: number) => parts.reduce((count, d) => count + d.reduce((k, x) => (x > least ? k + 1 : k), 0), 0)
  const stray = STRAY * above(DIFFERS)
  for (let k = SMALLEST; ; k++) {
    const top = [1, 2, 5][(k - SMALLEST) % 3]! * 10 ** Math.floor(k / 3)
    if (above(top + ROUNDING) <= stray) return top
  }
}

/** Differences as colours, up to what suits them or to what is asked for. */
export class Tinting {
  /** The difference from which on the colour is full. */
  most = 0
  private asked: number | null = null
  private differences: Differences | null = null

  constructor(private readonly colour: (part: string, values: Float32Array, most: number) => void) {}

  show(differences: Differences) {
    this.differences = differences
    this.most = this.asked ?? roundTop(differences)
    for (const [part, values] of Object.entries(differences)) this.colour(part, values, this.most)
  }

  /** Nothing is coloured any more: the meshes are others. */
  forget() {
    this.differences = null
  }

  /** Full from so many mm or % on; null for what suits. Says whether anything is coloured. */
  upTo(asked: number | null): boolean {
    this.asked = asked
    if (this.differences) this.show(this.differences)
    return this.differences !== null
  }
}
