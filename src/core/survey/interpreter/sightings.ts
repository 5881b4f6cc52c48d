import { NumberList } from '../states/lists'

/** That an event occurred; else how the condition of a part turned out, as a bit: false (1), true (2). */
export const OCCURRED = 0

/** What was seen for the first time, in the order in which it was. States never go down. */
export class Sightings {
  /** Numbers of events. */
  private readonly events = new NumberList()
  private readonly hows = new NumberList()
  private readonly states = new NumberList()
  private readonly picks = new NumberList()

  get length(): number {
    return this.events.length
  }

  /** `state`: in which one, -1 before any; `pick`: after which of its decisions, -1 in itself. */
  push(event: number, how: number, state: number, pick: number): void {
    this.events.push(event)
    this.hows.push(how)
    this.states.push(state + 1)
    this.picks.push(pick + 1)
  }

  eventAt(place: number): number {
    return this.events.items[place]!
  }

  howAt(place: number): number {
    return this.hows.items[place]!
  }

  stateAt(place: number): number {
    return this.states.items[place]! - 1
  }

  pickAt(place: number): number {
    return this.picks.items[place]! - 1
  }
}
