import { sendDabs, type Dab, type Painted, type Painting } from '../../api/paint'

/** Sends the dabs of one stroke, those that came in meanwhile together, one request at a time, and shows what each changed. */
export class StrokePump {
  readonly dabs: Dab[] = []
  private readonly token = crypto.randomUUID()
  private sent = 0
  private running: Promise<void> | null = null
  private failed: Error | null = null

  constructor(
    private readonly character: number,
    /** Comes when what was painted before is stored; dabs wait for it. */
    readonly revision: Promise<number>,
    readonly painting: Painting,
    private readonly onPainted: (painted: Painted) => void,
  ) {}

  add(dab: Dab) {
    this.dabs.push(dab)
    this.running ??= this.run()
  }

  /** Wait until everything is shown; throws where a dab was refused. */
  async finished(): Promise<void> {
    while (this.running) await this.running
    if (this.failed) throw this.failed
  }

  private async run() {
    try {
      const revision = await this.revision
      while (this.sent < this.dabs.length && !this.failed) {
        const first = this.sent
        const dabs = this.dabs.slice(first)
        this.sent = this.dabs.length
        this.onPainted(await sendDabs(this.character, { revision, token: this.token, painting: this.painting, first, dabs }))
      }
    } catch (error) {
      this.failed = error as Error
    } finally {
      this.running = null
    }
  }
}
