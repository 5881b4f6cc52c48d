import type { Role } from '../core/contract/access'
import type { StoreClient } from '../store/worker/client'
import type { Known, Seat } from './seat'

/** What is known holds no longer than this, in milliseconds, should the store not say in time that it does not. */
const KNOWN_MS = 20_000
/** So much is known at most; beyond it all is asked anew. */
const KNOWN_MAX = 10_000

interface Kept<T> {
  readonly value: T
  readonly until: number
}

/**
 * Who asked before, and what they are in a story, so that not every request asks the database for it: until the store
 * says, in whichever process it was changed, that it may not be so any more.
 */
export class KnownSeats implements Known {
  private readonly seats = new Map<string, Kept<Extract<Seat, { kind: 'member' }>>>()
  private readonly roles = new Map<string, Kept<Role> & { readonly member: string }>()
  /** Grows with all that is forgotten: what was read before it is not kept. */
  private age = 0

  constructor(
    private readonly store: Pick<StoreClient, 'ask' | 'onAccess'>,
    private readonly now: () => number = () => performance.now(),
  ) {
    store.onAccess((member) => this.forget(member))
  }

  async seat(cookies: string, find: () => Promise<Seat>): Promise<Seat> {
    const known = this.seats.get(cookies)
    if (known !== undefined && known.until > this.now()) return known.value
    const { age } = this
    const seat = await find()
    if (seat.kind === 'member' && age === this.age) this.keep(this.seats, cookies, seat)
    return seat
  }

  async roleOf(member: string, story: string): Promise<Role | undefined> {
    const name = `${member} ${story}`
    const known = this.roles.get(name)
    if (known !== undefined && known.until > this.now()) return known.value
    const { age } = this
    const role = await this.store.ask('roleOf', member, story)
    // what one is not yet one may be at the next moment
    if (role !== undefined && age === this.age) this.keep(this.roles, name, role, { member })
    return role
  }

  private keep<T, More extends object>(
    kept: Map<string, Kept<T> & More>,
    name: string,
    value: T,
    more = {} as More,
  ): void {
    if (kept.size >= KNOWN_MAX) kept.clear()
    kept.set(name, { ...more, value, until: this.now() + KNOWN_MS })
  }

  private forget(member: string): void {
    this.age += 1
    for (const [name, { value }] of this.seats)
      if (member === '*' || value.member.id === member) this.seats.delete(name)
    for (const [name, role] of this.roles) if (member === '*' || role.member === member) this.roles.delete(name)
  }
}
