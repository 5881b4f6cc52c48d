import { join, resolve } from 'node:path'
import { seededRandom } from '../src/core/base/random'
import { greater, ROLES, ROLES_OF_ALL, type Role } from '../src/core/contract/access'
import type { NewThread } from '../src/core/contract/comments'
import type { Change } from '../src/core/story/changes/types'
import { rename } from '../src/core/story/rename/rename'
import { newStory } from '../src/core/story/new-story'
import { readBackup, writeBackup } from '../src/store/backup'
import type { Database } from '../src/store/database'
import { Members } from '../src/store/members'
import { Stories } from '../src/store/stories'
import { Threads } from '../src/store/threads'
import { shortStory } from './short-story'
import { databases, PLACES } from './databases'

const MIGRATIONS = resolve('src/store/migrations')
const { folder, open, withTables } = databases()

const names = ['ada', 'bo', 'cy', 'dee']
const doer = { id: 'ada', name: 'ada', address: '192.0.2.7' }

describe.each(PLACES)('who may do what, in a database %s', (place) => {
  const opened = (name: string) => open(place, name)
  let database: Database
  let members: Members
  let stories: Stories

  async function filled(name: string): Promise<void> {
    database = await withTables(place, name)
    members = new Members(database)
    stories = new Stories(database)
    for (const id of names)
      await database.query('insert into member (id, name, email) values ($1, $1, $2)', [id, `${id}@studio.example`])
    expect(await members.firstKey()).toBeDefined()
    expect([await members.beFirst(doer), await members.beFirst({ ...doer, id: 'bo' })]).toEqual([true, false])
    expect(await members.firstKey()).toBeUndefined()
  }

  beforeEach(() => filled(`m${(count += 1)}`))
  afterEach(() => database.close())
  let count = 0

  test('after any changes each has what was given last, the library shows just that, and nothing is left without an owner', async () => {
    const random = seededRandom(11)
    const pick = <T>(all: readonly T[]) => all[random.below(all.length)]!
    const made: string[] = []
    for (const maker of ['bo', 'cy'])
      made.push(await stories.create(newStory(`of ${maker}`, 'en'), undefined, { ...doer, id: maker, name: maker }))
    const own = new Map<string, Role>([
      [`${made[0]} bo`, 'owner'],
      [`${made[1]} cy`, 'owner'],
    ])
    const everyone = new Map<string, Role | null>()
    const stewards = new Set(['ada'])
    const gone = new Set<string>()
    const told: string[] = []
    members.told = (member) => told.push(member)
    for (let step = 0; step < 120; step += 1) {
      const [story, who] = [pick(made), pick(names)]
      const before = told.length
      const kind = random.below(8)
      if (kind < 4) {
        const role = random.below(4) === 0 ? null : pick(ROLES)
        const left = new Map(own)
        if (role === null) left.delete(`${story} ${who}`)
        else left.set(`${story} ${who}`, role)
        const owners = [...left].filter(([key, is]) => key.startsWith(story) && is === 'owner')
        const loses = own.get(`${story} ${who}`) === 'owner' && owners.length === 0
        const trouble = await members.setRole(doer, story, who, role)
        expect(trouble !== undefined).toBe(gone.has(who) || loses)
        if (trouble === undefined) {
          own.delete(`${story} ${who}`)
          if (role !== null) own.set(`${story} ${who}`, role)
          expect(told.slice(before)).toEqual([who])
        } else expect(told).toHaveLength(before)
      } else if (kind < 6) {
        const role = random.below(3) === 0 ? null : pick(ROLES_OF_ALL)
        await members.setEveryone(doer, story, role)
        everyone.set(story, role)
        expect(told.slice(before)).toEqual(['*'])
      } else if (kind === 6 || step < 100) {
        const isOwner = random.below(2) === 0
        const isLast = !isOwner && stewards.has(who) && stewards.size === 1
        const trouble = await members.setOwner(doer, who, isOwner)
        expect(trouble !== undefined).toBe(gone.has(who) || isLast)
        if (trouble === undefined) stewards[isOwner ? 'add' : 'delete'](who)
      } else {
        const isLast = stewards.has(who) && stewards.size === 1
        const trouble = await members.leave(doer, who)
        expect(trouble !== undefined).toBe(gone.has(who) || isLast)
        if (trouble === undefined) {
          gone.add(who)
          stewards.delete(who)
          for (const one of made) own.delete(`${one} ${who}`)
        }
      }
      for (const one of names) {
        const expected = (of: string) =>
          gone.has(one)
            ? undefined
            : stewards.has(one)
              ? 'owner'
              : greater(own.get(`${of} ${one}`), everyone.get(of) ?? undefined)
        for (const of of made) expect(await members.roleOf(one, of)).toBe(expected(of))
        if (gone.has(one)) continue
        const { cards, total } = await stories.list({ member: one })
        const shown = made.filter((of) => expected(of) !== undefined)
        expect(total).toBe(shown.length)
        expect(cards.map(({ id, role }) => `${id} ${role}`).sort()).toEqual(
          shown.map((of) => `${of} ${expected(of)}`).sort(),
        )
      }
    }
    expect(gone.size).toBeGreaterThan(0)
    // what was done stands there, with who did it and from where
    const deeds = await members.deeds()
    expect(deeds[0]).toMatchObject({ who: 'ada', address: '192.0.2.7' })
    const earlier = await members.deeds(deeds.at(-1)!.id)
    expect(new Set([...deeds, ...earlier].map(({ id }) => id)).size).toBe(deeds.length + earlier.length)
    expect(earlier.at(-1)!.deed).toBe('became the owner of this server')
    for (const deed of await members.deeds(undefined, made[0])) expect(deed.about).toContain('of bo')
  })

  test('a link works once, for whoever is first; one that was taken back or is over opens nothing', async () => {
    const story = await stories.create(newStory('Invited', 'en'), undefined, { ...doer })
    const key = await members.invite(doer, { kind: 'join', note: 'for Bo', story, role: 'writer' })
    const opened = (await members.open(key))!
    expect(opened).toMatchObject({ kind: 'join', by: 'ada', story: 'Invited', role: 'writer' })
    expect(await members.open(`${key}x`)).toBeUndefined()
    const used = await Promise.all(['bo', 'cy'].map((id) => members.use(opened.id, { id, name: id })))
    expect(used.filter(Boolean)).toHaveLength(1)
    const roles = await Promise.all(['bo', 'cy'].map((id) => members.roleOf(id, story)))
    expect(roles.map((role, at) => (used[at] ? role === 'writer' : role === undefined))).toEqual([true, true])
    expect(await members.open(key)).toBeUndefined()
    // an invitation gives nobody less than they have
    const less = (await members.open(await members.invite(doer, { kind: 'join', story, role: 'reader' })))!
    const first = used[0] ? 'bo' : 'cy'
    await members.use(less.id, { id: first, name: first })
    expect(await members.roleOf(first, story)).toBe('writer')

    const back = await members.invite(doer, { kind: 'join' })
    const [waiting] = await members.invitations()
    expect(await members.withdraw(doer, waiting!.id, story)).toBe(false)
    expect(await members.withdraw(doer, waiting!.id)).toBe(true)
    expect(await members.open(back)).toBeUndefined()

    const old = await members.invite(doer, { kind: 'password', member: 'bo' })
    expect(await members.open(old)).toMatchObject({ kind: 'password', email: 'bo@studio.example' })
    await database.query("update invitation set ends_at = now() - interval '1 second' where used_at is null")
    expect(await members.open(old)).toBeUndefined()
    expect(await members.invitations()).toEqual([])
    // nothing that opens anything is in the database as it is handed on
    const kept = JSON.stringify(await database.query('select * from invitation'))
    for (const one of [key, back, old]) expect(kept).not.toContain(one)
  })

  test('a token speaks for its member until it ends or its member leaves', async () => {
    const key = await members.makeToken({ id: 'bo', name: 'bo' }, { name: 'builds', mayWrite: false, days: 1 })
    expect(await members.bearer(key)).toMatchObject({ member: { id: 'bo' }, mayWrite: false, story: null })
    expect((await members.tokens('bo'))[0]!.usedAt).not.toBeNull()
    expect(await members.endToken({ id: 'cy', name: 'cy' }, (await members.tokens('bo'))[0]!.id)).toBe(false)
    await members.leave(doer, 'bo')
    expect(await members.bearer(key)).toBeUndefined()
    const other = await members.makeToken({ id: 'cy', name: 'cy' }, { name: 'builds', mayWrite: true, days: 1 })
    await database.query("update member_token set ends_at = now() - interval '1 second'")
    expect(await members.bearer(other)).toBeUndefined()
  })

  test('who did what stands in the history, and all of it comes through a backup', async () => {
    const id = await stories.create(newStory('Named', 'en'), undefined, { ...doer })
    const title = (to: string) => ({ op: 'set-story' as const, values: { title: to } })
    await stories.change(id, title('By Bo'), crypto.randomUUID(), { by: { id: 'bo', name: 'bo' } })
    const undo = (more: object) =>
      stories.travel(id, 'undo', crypto.randomUUID(), { by: { id: 'cy', name: 'cy' }, ...more })
    // it is not their own, so they have to ask for it
    expect(await undo({})).toMatchObject({ error: { anyones: true } })
    expect((await undo({ anyones: true })).ok).toBe(true)
    await stories.change(id, title('By nobody'), crypto.randomUUID())
    await members.setRole(doer, id, 'dee', 'commentator')
    await members.invite(doer, { kind: 'join', story: id, role: 'reader' })
    await members.makeToken(doer, { name: 'builds', mayWrite: true, days: 1, story: id })
    const by = async (of: Stories) => (await of.history(id))!.steps.map((step) => step.by)
    expect(await by(stories)).toEqual([null, 'cy', 'bo'])
    // the name stays when they leave
    await members.leave(doer, 'bo')
    expect(await by(stories)).toEqual([null, 'cy', 'bo'])

    const file = join(folder(), `${place}.gz`)
    await writeBackup(database, file, new Date())
    const again = await opened('restored')
    try {
      await readBackup(again, file, MIGRATIONS)
      const there = new Members(again)
      expect(await there.members()).toEqual(await members.members())
      expect(await there.roleOf('dee', id)).toBe('commentator')
      expect(await by(new Stories(again))).toEqual([null, 'cy', 'bo'])
      expect(await there.invitations()).toHaveLength(1)
      expect(await there.tokens('ada')).toHaveLength(1)
      expect(await there.deeds()).toEqual(await members.deeds())
    } finally {
      await again.close()
    }
  })

  test('what is said follows the story, is given and done, and what is new is told to who comes back', async () => {
    const threads = new Threads(database)
    const told: string[] = []
    stories.news = threads.news = (_, event) => told.push(event)
    const id = await stories.create(shortStory('Talked of', 'Here.', 'And there.'), undefined, doer)
    const change = (made: Change, member = 'ada') =>
      stories.change(id, made, crypto.randomUUID(), { by: { id: member, name: member } })
    const begin = (topic: string, text: string, more: Partial<NewThread> = {}) =>
      threads.begin(id, doer, { topic, quote: '', text, givenTo: null, ...more })
    await threads.visited(id, 'bo', 0)
    const line = await begin('at quay.here#line2', 'Is this right, @Bo?')
    await begin('at quay.here.go', 'Too short.', { givenTo: 'bo' })
    expect((await threads.list(id))[0]).toMatchObject({ comments: [{ by: { id: 'ada' }, mentions: ['bo'] }] })
    const topics = async () => (await threads.list(id)).map(({ topic, isLost }) => `${topic}${isLost ? ' lost' : ''}`)

    told.length = 0
    const { story } = (await stories.open(id))!
    const renamed = rename(story, { of: 'beat', scene: 'quay', id: 'here' }, 'pier')
    if (!renamed.ok) throw new Error(renamed.error)
    await change(renamed.value.change)
    expect(await topics()).toEqual(['at quay.pier#line2', 'at quay.pier.go'])
    expect(told).toEqual(['comments'])
    const beat = (await stories.open(id))!.story.scenes[0]!.beats[0]!
    const at = { op: 'replace', in: { list: 'beats', scene: 'quay' }, id: 'pier', at: 0 } as const
    await change({ ...at, item: { ...beat, lines: [{ text: 'First of all.' }, ...beat.lines!] } }, 'cy')
    expect((await topics())[0]).toBe('at quay.pier#line3')
    // gone, it is about the beat until it comes back
    await change({ ...at, item: { ...beat, lines: beat.lines!.slice(0, 1) } })
    expect((await topics())[0]).toBe('at quay.pier lost')
    await stories.travel(id, 'undo', crypto.randomUUID())
    expect((await topics())[0]).toBe('at quay.pier#line3')

    const bo = { id: 'bo', name: 'bo' }
    expect(await threads.since(id, 'bo')).toMatchObject({ revision: 0, steps: 4, by: ['ada', 'cy', 'somebody'] })
    expect(await threads.since(id, 'bo')).toMatchObject({ comments: 2, forMe: 2 })
    expect(await threads.since(id, 'cy')).toBeUndefined()
    await threads.visited(id, 'bo', 4)
    expect(await threads.since(id, 'bo')).toMatchObject({ steps: 0, comments: 0 })
    expect(await threads.change(id, line, bo, { text: 'It is.', isDone: true })).toBe(true)
    expect((await threads.list(id))[0]).toMatchObject({ done: { by: 'bo' }, comments: [{}, { by: { id: 'bo' } }] })
    expect(await threads.change(crypto.randomUUID(), line, bo, { isDone: false })).toBe(false)
    // others' threads are not taken away but by who owns the story
    expect(await threads.remove(id, line, bo, false)).toBe(false)
    expect(await threads.remove(id, line, bo, true)).toBe(true)
    expect(await threads.list(id)).toHaveLength(1)
  })

  test('what is tried too often is refused until the time is over', async () => {
    const tries = []
    for (let at = 0; at < 5; at += 1) tries.push(await members.mayTry('join 192.0.2.7', 60, 3))
    expect(tries).toEqual([true, true, true, false, false])
    expect(await members.mayTry('join 192.0.2.8', 60, 3)).toBe(true)
    await database.query('update attempt set last_request = last_request - 61000')
    expect(await members.mayTry('join 192.0.2.7', 60, 3)).toBe(true)
  })
})
