/**
 * What panels ask while a control moves: one question under way, and of each asker the newest next. What was asked in between is dropped, so
 * that neither the server nor the frames of the stage wait for answers that nobody will see.
 */
export class Questions {
  private readonly waiting = new Map<string, () => Promise<void>>()
  private busy = false

  /** After each answer it rests: who moves a control looks at the stage, and that needs the machine too. */
  constructor(private readonly rest: (took: number) => Promise<void> = () => Promise.resolve()) {}

  /** Asks in the place of whatever this asker still waits for. */
  ask(asker: string, question: () => Promise<void>): void {
    this.waiting.delete(asker) // whoever asks again goes behind the others
    this.waiting.set(asker, question)
    if (!this.busy) void this.work()
  }

  /** The asker does not want to know any more. */
  drop(asker: string): void {
    this.waiting.delete(asker)
  }

  private async work() {
    this.busy = true
    for (let next = this.first(); next; next = this.first()) {
      const begun = performance.now()
      await next().catch(() => undefined)
      await this.rest(performance.now() - begun)
    }
    this.busy = false
  }

  private first() {
    const [asker, question] = this.waiting.entries().next().value ?? []
    if (asker !== undefined) this.waiting.delete(asker)
    return question
  }
}
