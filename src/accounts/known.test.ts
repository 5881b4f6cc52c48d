import type { Role } from '../core/contract/access'
import { seededRandom } from '../core/base/random'
import type { StoreClient } from '../store/worker/client'
import { KnownSeats } from './known'
import type { Seat } from './seat'

const seatOf = (id: string): Seat => ({ kind: 'member', member: { id } }) as unknown as Seat

function knowing() {
  const truth = new Map<string, Role>()
  let tell: (member: string) => void = () => undefined
  let time = 0
  let asked = 0
  let holding: Promise<void> = Promise.resolve()
  const store = {
    onAccess: (hear: (member: string) => void) => {
      tell = hear
      return () => undefined
    },
    ask: async (_: string, member: string, story: string) => {
      asked += 1
      const read = truth.get(`${member} ${story}`)
      await holding
      return read
    },
  } as unknown as Pick<StoreClient, 'ask' | 'onAccess'>
  return {
    known: new KnownSeats(store, () => time),
    truth,
    tell: (member: string) => tell(member),
    pass: (ms: number) => (time += ms),
    asked: () => asked,
    hold: () => {
      let go = () => {}
      holding = new Promise((resolve) => (go = resolve))
      return () => go()
    },
  }
}

test('what is told to have changed is asked anew, whatever happens in between; what is not, rarely', async () => {
  const { known, truth, tell, pass, asked } = knowing()
  const random = seededRandom(3)
  let looks = 0
  for (let step = 0; step < 4_000; step += 1) {
    const member = random.pick(['a', 'b', 'c'])
    const story = random.pick(['x', 'y'])
    if (random.chance(0.05)) {
      const role = random.pick(['reader', 'writer', undefined] as const)
      if (role === undefined) truth.delete(`${member} ${story}`)
      else truth.set(`${member} ${story}`, role)
      tell(random.chance(0.3) ? '*' : member)
    }
    if (random.chance(0.1)) pass(random.below(5_000))
    expect(await known.roleOf(member, story)).toBe(truth.get(`${member} ${story}`))
    looks += 1
  }
  expect(asked()).toBeLessThan(looks / 2)
})

test('what was read before a change is not kept after it', async () => {
  const { known, truth, tell, hold } = knowing()
  truth.set('a x', 'writer')
  const go = hold()
  const reading = known.roleOf('a', 'x')
  truth.set('a x', 'reader')
  tell('a')
  go()
  // whoever asked before the change is answered as before it
  expect(await reading).toBe('writer')
  expect(await known.roleOf('a', 'x')).toBe('reader')
})

test('a seat is known by its cookies until it is told of, or for a while; nobody is not', async () => {
  const { known, tell, pass } = knowing()
  let found = 0
  const find = (seat: Seat) => () => {
    found += 1
    return Promise.resolve(seat)
  }
  const ask = (cookies: string, seat: Seat) => known.seat(cookies, find(seat))
  await ask('one', seatOf('a'))
  await ask('one', seatOf('a'))
  expect(found).toBe(1)
  tell('b')
  await ask('one', seatOf('a'))
  expect(found).toBe(1)
  tell('a')
  expect(await ask('one', { kind: 'nobody' })).toEqual({ kind: 'nobody' })
  expect((await ask('one', seatOf('a'))).kind).toBe('member')
  expect(found).toBe(3)
  // should nobody tell of it
  pass(60_000)
  expect(await ask('one', { kind: 'nobody' })).toEqual({ kind: 'nobody' })
})
