/** Changes of each character that this page has asked for and that are not done yet, one after the other. */
export class Turns {
  private readonly last = new Map<number, Promise<unknown>>()
  private readonly broken = new Map<number, number>()

  /** Run a change once those before it are done. Where one of them calls `breakOff`, those that waited behind it are refused. */
  take<T>(character: number, run: () => Promise<T>): Promise<T> {
    const seen = this.broken.get(character)
    const turn = this.settled(character).then(() => {
      if (this.broken.get(character) !== seen) throw new Error('Not done: the character had changed before. Look again, then repeat it.')
      return run()
    })
    this.last.set(
      character,
      turn.catch(() => undefined),
    )
    return turn
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
