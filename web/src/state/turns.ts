/** Changes of each character that this page has asked for and that are not done yet, one after the other. */
export class Turns {
  private readonly last = new Map<number, Promise<unknown>>()
  private readonly waiting = new Map<number, number>()
  private readonly broken = new Map<number, number>()

  /** Run a change once those before it are done. Where one of them calls `breakOff`, those that waited behind it are refused. */
  take<T>(character: number, run: () => Promise<T>): Promise<T> {
    const seen = this.broken.get(character)
    const turn = this.settled(character).then(() => {
      if (this.broken.get(character) !== seen) throw new Error('Not done: the character had changed before. Look again, then repeat it.')
      return run()
    })
    this.waiting.set(character, (this.waiting.get(character) ?? 0) + 1)
    const over = () => void this.waiting.set(character, this.waiting.get(character)! - 1)
    this.last.set(character, turn.then(over, over))
    return turn
  }

  /** Is something asked for and not done yet? */
  busy(character: number): boolean {
    return (this.waiting.get(character) ?? 0) > 0
  }

  /** Until all that was asked for so far is done, well or badly. */
  async settled(character: number): Promise<void> {
    await this.last.get(character)
  }

  /** What waits was asked for on something that is no longer so. */
  breakOff(character: number): void {
    this.broken.set(character, (this.broken.get(character) ?? 0) + 1)
  }
}
