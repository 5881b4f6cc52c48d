/** Work that belongs to one name is done one after another, work of different names beside each other. */
export class Queues {
  private readonly last = new Map<string, Promise<unknown>>()

  run<T>(name: string, work: () => Promise<T>): Promise<T> {
    const next = (this.last.get(name) ?? Promise.resolve()).then(work, work)
    const done = next.catch(() => undefined)
    this.last.set(name, done)
    void done.then(() => {
      if (this.last.get(name) === done) this.last.delete(name)
    })
    return next
  }

  /** When all that is under way has ended. */
  async idle(): Promise<void> {
    await Promise.all(this.last.values())
  }
}
