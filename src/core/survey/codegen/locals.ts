/** The locals of a function, handed out one by one. */
export class Locals {
  private last: number

  constructor(private readonly parameters: number) {
    this.last = parameters - 1
  }

  another(): number {
    this.last += 1
    return this.last
  }

  /** How many there are besides the parameters. */
  get count(): number {
    return this.last + 1 - this.parameters
  }
}
