/** Lets so many pieces of work go on at the same time; more wait their turn, in the order in which they came. */
export class Turnstile {
  private inside = 0
  private readonly waiting: (() => void)[] = []

  constructor(private readonly most: number) {}

  /** Does a piece of work when there is room for it; gives what it gives, and rejects when it does. */
  async through<Result>(work: () => Promise<Result>): Promise<Result> {
    if (this.inside >= this.most) await new Promise<void>((resolve) => this.waiting.push(resolve))
    else this.inside += 1
    try {
      return await work()
    } finally {
      // whoever waits takes over the place, so that nobody who comes meanwhile slips in before
      const next = this.waiting.shift()
      if (next) next()
      else this.inside -= 1
    }
  }
}
