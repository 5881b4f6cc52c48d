import { copyFile, mkdtemp, readdir, readFile, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { randomUUID } from 'node:crypto'
import { randomStory } from '../bench/stories/random'
import { isSame } from '../src/core/base/same'
import { seededRandom } from '../src/core/base/random'
import type { Facts, Order } from '../src/core/contract/answers'
import type { Change } from '../src/core/story/changes/types'
import { readStory } from '../src/core/story/read'
import { linkStory } from '../src/core/story/link'
import type { Story } from '../src/core/story/types'
import { keptSurvey, type KeptSurvey } from '../src/core/survey/kept-survey'
import { storyFacts } from '../src/core/survey/questions/story-facts'
import { Survey, surveyStory } from '../src/core/survey/survey'
import type { Database } from '../src/store/database'
import { migrate } from '../src/store/migrate'
import { Stories } from '../src/store/stories'
import { databases, PLACES } from './databases'
import { seeds } from './seeds'
import { randomChange, written } from './random-change'

const MIGRATIONS = resolve('src/store/migrations')

const { open, withTables } = databases()

describe.each(PLACES)('the store in a database %s', (place) => {
  let database: Database

  beforeAll(async () => {
    database = await withTables(place, 'filled')
  })

  afterAll(() => database.close())

  const create = (story: Story): Promise<string> => new Stories(database).create(story)

  /** What the rows say, read anew past every cache. */
  async function stored(id: string): Promise<Story> {
    return (await new Stories(database).open(id))!.story
  }

  test('a story comes back letter by letter as it went in: keys of any name, their order, empty lists, any text', async () => {
    for (const seed of seeds(15)) {
      const story = JSON.parse(JSON.stringify(randomStory(seed))) as Story
      const [beat] = story.scenes[0]!.beats
      if (!beat!.ask && !beat!.ending && !beat!.choices) beat!.choices = []
      // names that objects have by themselves, or that columns have
      const odd = JSON.parse(
        `{"constructor":1,"toString":null,"__proto__":{"a":[]},"key":"x","list":[[]],"body":{},"cast":[{}],"text":"\\u0000\\ud800é"}`,
      ) as object
      const text = JSON.stringify({
        mood: { tide: [1, null, 'high'] },
        ...story,
        endings: story.endings ?? [],
        zeal: odd,
      })
        .replace('"beats":[{', `"beats":[{"odd":${JSON.stringify(odd)},`)
        .replace(/^\{/, '{"__proto__":{"deep":true},')
      const read = readStory(text)
      if (!read.ok) throw new Error(JSON.stringify(read.error))
      const id = await create(read.value)
      expect(await new Stories(database).textAt(id, 0)).toBe(text)
    }
  })

  test('after any changes the rows say what the document says, and undoing them all brings back the first', async () => {
    for (const seed of seeds(8)) {
      const random = seededRandom(seed)
      const first = randomStory(seed)
      const id = await create(first)
      const stories = new Stories(database)
      let made = 0
      for (let step = 0; step < 12; step += 1) {
        const { story } = (await stories.open(id))!
        const saved = await stories.change(id, randomChange(story, random), randomUUID())
        if (saved.ok) made += 1
        const opened = (await stories.open(id))!
        expect(await stored(id)).toEqual(written(opened.story))
      }
      expect(made).toBeGreaterThan(6)
      const last = (await stories.open(id))!.story
      for (let step = 0; step < made; step += 1) expect((await stories.travel(id, 'undo', randomUUID())).ok).toBe(true)
      expect(await stored(id)).toEqual(written(first))
      for (let step = 0; step < made; step += 1) expect((await stories.travel(id, 'redo', randomUUID())).ok).toBe(true)
      expect(await stored(id)).toEqual(written(last))
    }
  })

  test('every point of a history can be looked at, returned to, and left again', async () => {
    for (const seed of seeds(4)) {
      const random = seededRandom(seed + 50)
      const id = await create(randomStory(seed))
      const stories = new Stories(database)
      const told: number[] = []
      stories.tell = (of, { revision }) => void (of === id && told.push(revision))
      const points = [(await stories.open(id))!.story]
      for (let step = 0; step < 10; step += 1) {
        const kind = random.below(4)
        const saved =
          kind === 0
            ? await stories.travel(id, 'undo', randomUUID())
            : await stories.change(id, randomChange(points.at(-1)!, random), randomUUID())
        if (saved.ok) points.push((await stories.open(id))!.story)
      }
      for (const [revision, story] of points.entries())
        expect(written((await new Stories(database).at(id, revision))!)).toEqual(written(story))
      expect(await stories.at(id, points.length)).toBeUndefined()
      expect(await stories.nameVersion(id, 'Before')).toBe(true)
      const back = random.below(points.length - 1)
      expect((await stories.returnTo(id, back, randomUUID())).ok).toBe(true)
      expect(isSame(await stored(id), written(points[back]!))).toBe(true)
      expect((await stories.travel(id, 'undo', randomUUID())).ok).toBe(true)
      expect(isSame(await stored(id), written(points.at(-1)!))).toBe(true)
      const history = (await stories.history(id))!
      expect(history.steps.map(({ revision }) => revision)).toEqual(
        [...points.keys(), points.length].map((_, at) => points.length + 1 - at),
      )
      expect(history.steps[1]!.summary).toBe(`returned to step ${back}`)
      expect(history.versions).toMatchObject([{ name: 'Before', revision: points.length - 1 }])
      expect(told).toEqual([...history.steps.map(({ revision }) => revision)].reverse())
    }
  })

  test('what was written is found at once by the beginnings of its words, wherever it stands', async () => {
    const stories = new Stories(database)
    const id = await create({
      paperCompass: 1,
      title: 'Found',
      language: 'en',
      start: 'quay.morning',
      cast: [{ id: 'odile', name: 'Odile Marsh' }],
      ledger: [{ id: 'wet_rope', kind: 'item', max: 3, notes: 'tarred' }],
      quests: [{ id: 'sluice', name: 'Mend the sluice', stages: [{ id: 'asked', name: 'Asked to mend it' }] }],
      endings: [{ id: 'across', name: 'Across in time' }],
      scenes: [
        {
          id: 'quay',
          title: 'The salt quay',
          beats: [
            {
              id: 'morning',
              notes: 'todo: gulls',
              lines: [
                { speaker: 'odile', text: 'Mind the Ropes, stranger.' },
                { firstOf: [{ lines: [{ text: 'Kælling – the water shines.' }] }] },
              ],
              choices: [{ id: 'pay', text: 'Pay the tollkeeper', to: '' }],
            },
            { id: 'log', ask: { into: '', prompt: 'A name for the log?' } },
          ],
        },
      ],
    })
    const find = async (text: string) =>
      (await stories.search(id, text))!.map(({ kind, address }) => `${kind} ${address}`)
    expect(await find('rope')).toEqual(['entry wet_rope', 'line quay.morning#line1'])
    expect(await find('MIND stran')).toEqual(['line quay.morning#line1'])
    expect(await find('kæll')).toEqual(['line quay.morning#line2.variant1.line1'])
    expect(await find('toll')).toEqual(['choice quay.morning.pay'])
    expect(await find('mend')).toEqual(['quest sluice', 'stage sluice.asked'])
    expect(await find('todo gull')).toEqual(['beat quay.morning'])
    expect(await find('log')).toEqual(['beat quay.log', 'question quay.log'])
    expect(await find("' & | ! :* <-> \\")).toEqual([])
    await stories.change(id, { op: 'set-scene', scene: 'quay', values: { title: 'The lantern yard' } }, randomUUID())
    expect(await find('lantern')).toEqual(['scene quay'])
    expect(await find('salt')).toEqual([])
  })

  test('a request sent twice is carried out once', async () => {
    const id = await create(randomStory(3))
    const stories = new Stories(database)
    const request = randomUUID()
    const insert = { op: 'insert', in: { list: 'endings' }, at: 0, item: { id: 'once', name: 'Once' } } as const
    await stories.change(id, insert, request)
    await stories.change(id, insert, request)
    const { story, revision } = (await stories.open(id))!
    expect(story.endings!.filter((ending) => ending.id === 'once')).toHaveLength(1)
    expect(revision).toBe(1)
  })

  test('texts in other languages are rows of their own: an edit writes just its text, a title writes none', async () => {
    const texts = Object.fromEntries(Array.from({ length: 300 }, (_, at) => [`a.b.line${at}`, { text: `Zeile ${at}` }]))
    const story: Story = { ...randomStory(4), languages: { de: { texts }, fr: { texts: {}, notes: 'later' } } }
    const id = await create(story)
    const stories = new Stories(database)
    const rows = async () =>
      (
        await database.query('select key, list, body::text as body from piece where story_id = $1 and until is null', [
          id,
        ])
      ).length
    const versions = async () => (await database.query('select 1 from piece where story_id = $1', [id])).length
    const [before, written0] = [await rows(), await versions()]
    const edit = (change: Change) => stories.change(id, change, randomUUID())
    const values = { 'a.b.line7': { text: 'Anders' }, 'a.b.line8': null }
    expect((await edit({ op: 'set-texts', language: 'de', values })).ok).toBe(true)
    expect(await rows()).toBe(before - 1)
    expect(await versions()).toBe(written0 + 1)
    expect((await edit({ op: 'set-story', values: { title: 'Anew' } })).ok).toBe(true)
    expect(await versions()).toBe(written0 + 2)
    const now = await stored(id)
    expect(Object.keys(now.languages!['de']!.texts)).toHaveLength(299)
    expect(now.languages!['de']!.texts['a.b.line7']).toEqual({ text: 'Anders' })
    expect(now.languages!['fr']).toEqual({ texts: {}, notes: 'later' })
    expect((await stories.travel(id, 'undo', randomUUID())).ok).toBe(true)
    expect((await stories.travel(id, 'undo', randomUUID())).ok).toBe(true)
    expect(written(await stored(id))).toEqual(written(story))
  })

  test('a story whose own keys hold its languages is read as it is, and gets rows for them with its next edit', async () => {
    const story: Story = { ...randomStory(5), languages: { de: { texts: { 'a.b': { text: 'Eins' } } } } }
    const id = await create(story)
    // as it was written once
    await database.query("delete from piece where story_id = $1 and list = 'texts'", [id])
    const [own] = await database.query<{ body: string }>(
      'select body::text as body from piece where story_id = $1 and key = 0',
      [id],
    )
    const inline = JSON.stringify({ ...(JSON.parse(own!.body) as Story), languages: story.languages })
    await database.query('update piece set body = $2::json where story_id = $1 and key = 0', [id, inline])
    expect(await stored(id)).toEqual(written(story))
    const stories = new Stories(database)
    const values = { 'a.c': { text: 'Zwei' } }
    expect((await stories.change(id, { op: 'set-texts', language: 'de', values }, randomUUID())).ok).toBe(true)
    expect((await stored(id)).languages).toEqual({ de: { texts: { 'a.b': { text: 'Eins' }, ...values } } })
    const texts = await database.query("select 1 from piece where story_id = $1 and list = 'texts'", [id])
    expect(texts).toHaveLength(2)
    expect(written((await stories.at(id, 0))!)).toEqual(written(story))
  })

  test('a change that is refused leaves nothing behind', async () => {
    const id = await create(randomStory(4))
    const stories = new Stories(database)
    const before = (await stories.open(id))!
    const refused = await stories.change(
      id,
      {
        op: 'batch',
        changes: [
          { op: 'set-story', values: { title: 'Half' } },
          { op: 'remove', in: { list: 'cast' }, id: 'nobody', at: 0 },
        ],
      },
      randomUUID(),
    )
    expect(refused).toEqual({ ok: false, error: { kind: 'conflict', message: expect.stringContaining('"nobody"') } })
    expect(await stored(id)).toEqual(before.story)
  })

  test('what can be taken back and brought back is known after opening anew, and a new edit forgets what could be brought back', async () => {
    const id = await create(randomStory(5))
    const edit = (title: string) =>
      new Stories(database).change(id, { op: 'set-story', values: { title } }, randomUUID())
    const travel = (kind: 'undo' | 'redo') => new Stories(database).travel(id, kind, randomUUID())
    // each time from the rows alone, as after a reload
    const known = async () => {
      const { canUndo, canRedo, story } = (await new Stories(database).open(id))!
      return [canUndo, canRedo, story.title]
    }
    const title = (await stored(id)).title
    expect(await known()).toEqual([false, false, title])
    expect((await travel('undo')).ok).toBe(false)
    await edit('First')
    await edit('Second')
    expect(await known()).toEqual([true, false, 'Second'])
    expect(await travel('undo')).toMatchObject({ ok: true, value: { canUndo: true, canRedo: true } })
    expect(await known()).toEqual([true, true, 'First'])
    expect(await travel('undo')).toMatchObject({ ok: true, value: { canUndo: false, canRedo: true } })
    expect(await known()).toEqual([false, true, title])
    expect(await travel('redo')).toMatchObject({ ok: true, value: { canUndo: true, canRedo: true } })
    expect(await travel('redo')).toMatchObject({ ok: true, value: { canUndo: true, canRedo: false } })
    expect(await known()).toEqual([true, false, 'Second'])
    expect((await travel('redo')).ok).toBe(false)
    await travel('undo')
    await edit('Third')
    expect(await known()).toEqual([true, false, 'Third'])
    await travel('undo')
    expect(await known()).toEqual([true, true, 'First'])
  })

  test("undo takes back the own last edit of a window; another's only on asking, and none that was built on since", async () => {
    const id = await create(randomStory(5))
    const [mine, theirs] = [randomUUID(), randomUUID()]
    // each time from the rows alone, as after a reload
    const edit = (author: string, change: Change) => new Stories(database).change(id, change, randomUUID(), { author })
    const travel = (kind: 'undo' | 'redo', author: string, anyones = false) =>
      new Stories(database).travel(id, kind, randomUUID(), { author, anyones })
    const endings = async () => (await stored(id)).endings!.map((one) => one.id).filter((one) => one.startsWith('x_'))
    const insert = (name: string): Change => ({
      op: 'insert',
      in: { list: 'endings' },
      at: 0,
      item: { id: name, name },
    })
    await edit(mine, insert('x_mine'))
    await edit(theirs, insert('x_theirs'))
    expect(await travel('undo', mine)).toMatchObject({ ok: true })
    expect(await endings()).toEqual(['x_theirs'])
    expect(await travel('undo', mine)).toMatchObject({ ok: false, error: { kind: 'conflict', anyones: true } })
    expect(await endings()).toEqual(['x_theirs'])
    // what another one takes back is not forgotten by an edit here
    expect(await travel('redo', theirs)).toMatchObject({ ok: false, error: { anyones: true } })
    await edit(theirs, insert('x_more'))
    expect(await travel('redo', mine)).toMatchObject({ ok: true })
    expect((await endings()).sort()).toEqual(['x_mine', 'x_more', 'x_theirs'])
    // the other one works on it
    const list = (await stored(id)).endings!
    const at = list.findIndex((one) => one.id === 'x_mine')
    await edit(theirs, {
      op: 'replace',
      in: { list: 'endings' },
      id: 'x_mine',
      at,
      item: { ...list[at]!, name: 'New' },
    })
    const refused = await travel('undo', mine)
    expect(refused).toMatchObject({ ok: false, error: { message: expect.stringContaining('Changed meanwhile') } })
    expect(await travel('undo', mine, true)).toMatchObject({ ok: true })
    expect((await stored(id)).endings!.find((one) => one.id === 'x_mine')).toMatchObject({ name: 'x_mine' })
    expect(await travel('undo', mine)).toMatchObject({ ok: true })
    expect((await endings()).sort()).toEqual(['x_more', 'x_theirs'])
  })

  test('what another window wrote meanwhile is never overwritten by undo or redo', async () => {
    const id = await create(randomStory(5))
    const [mine, theirs] = [randomUUID(), randomUUID()]
    const stories = new Stories(database)
    const write = async (author: string, values: object) => {
      const { endings } = await stored(id)
      const item = { ...endings![0]!, ...values }
      const done = await stories.change(
        id,
        { op: 'replace', in: { list: 'endings' }, id: item.id, at: 0, item },
        randomUUID(),
        { author },
      )
      expect(done.ok).toBe(true)
    }
    const travel = (kind: 'undo' | 'redo', author: string) => stories.travel(id, kind, randomUUID(), { author })
    const ending = async () => (await stored(id)).endings![0]!
    const { name } = await ending()
    // brought back after another has written in its place
    await write(mine, { name: 'Mine' })
    expect((await travel('undo', mine)).ok).toBe(true)
    await write(theirs, { name: 'Theirs' })
    expect(await travel('redo', mine)).toMatchObject({ ok: false, error: { anyones: true } })
    expect(await ending()).toMatchObject({ name: 'Theirs' })
    expect((await travel('undo', theirs)).ok).toBe(true)
    expect(await ending()).toMatchObject({ name })
    // each takes back the own part of one item: neither comes back with the other
    await write(mine, { name: 'Mine' })
    await write(theirs, { notes: 'theirs' })
    expect((await travel('undo', mine)).ok).toBe(true)
    expect(await ending()).toMatchObject({ name, notes: 'theirs' })
    expect((await travel('undo', theirs)).ok).toBe(true)
    expect((await ending()).name).toBe(name)
    expect((await ending()).notes).toBeUndefined()
  })

  test('the facts of a survey are kept with the story that they are of, and order the library', async () => {
    const facts = (errors: number, words: number): Facts => ({
      complete: true,
      endings: { reached: 1, of: 2 },
      stages: { reached: 0, of: 0 },
      errors,
      warnings: 0,
      words,
      todos: 0,
      languages: ['en'],
    })
    const stories = new Stories(database)
    const made = ['Facts b', 'Facts a', 'Facts c'].map((title) => create({ ...randomStory(5), title }))
    const [b, a, c] = await Promise.all(made)
    const listed = async (order?: Order) => (await stories.list({ text: 'Facts', ...(order && { order }) })).cards
    await stories.keepFacts(a!, 0, facts(1, 30))
    await stories.keepFacts(b!, 0, facts(3, 20))
    expect((await listed('title')).map((card) => card.title)).toEqual(['Facts a', 'Facts b', 'Facts c'])
    expect((await listed('errors')).map((card) => card.facts?.errors)).toEqual([3, 1, undefined])
    expect((await listed('words')).map((card) => card.facts?.words)).toEqual([30, 20, undefined])
    await stories.change(a!, { op: 'set-story', values: { title: 'Facts d' } }, randomUUID())
    const now = async (id: string) => (await listed()).find((card) => card.id === id)!
    expect(await now(a!)).toMatchObject({ isSurveyed: false, facts: { errors: 1 } })
    expect(await now(b!)).toMatchObject({ isSurveyed: true })
    expect(await now(c!)).toMatchObject({ isSurveyed: false, facts: null })
    await stories.keepFacts(a!, 1, facts(2, 30))
    // what comes late is older than what is known; what is of no revision yet is nobody's
    await stories.keepFacts(a!, 0, facts(9, 9))
    await stories.keepFacts(a!, 7, facts(9, 9))
    expect(await now(a!)).toMatchObject({ isSurveyed: true, facts: { errors: 2, words: 30 } })
    const copy = await stories.duplicate(a!)
    expect(await now(copy!)).toMatchObject({ isSurveyed: true, facts: { errors: 2 } })
  })

  test('all that a survey said is there for whoever opens the story next, until an edit', async () => {
    const stories = new Stories(database)
    const story = randomStory(6)
    const id = await create(story)
    const facts = storyFacts(story, surveyStory(linkStory(story)))
    const survey = new Survey(linkStory(story))
    while (!survey.advance());
    const kept = (took: number) => keptSurvey(survey.brief(), took, 'this')!
    const opened = async (of: string | undefined = id) =>
      (JSON.parse((await stories.openText(of))!) as { survey: KeptSurvey | null }).survey
    expect(await opened()).toBeNull()
    await stories.keepFacts(id, 0, facts)
    expect(await opened()).toBeNull()
    await stories.keepFacts(id, 0, facts, kept(1))
    expect(await opened()).toEqual(JSON.parse(JSON.stringify(kept(1))))
    expect(await opened(await stories.duplicate(id))).toMatchObject({ took: 1 })
    await stories.change(id, { op: 'set-story', values: { title: 'Kept' } }, randomUUID())
    expect(await opened()).toBeNull()
    expect(await opened(await stories.duplicate(id))).toBeNull()
    // what comes late, and what is of no revision yet
    await stories.keepFacts(id, 0, facts, kept(2))
    await stories.keepFacts(id, 7, facts, kept(3))
    expect(await opened()).toBeNull()
    await stories.keepFacts(id, 1, facts, kept(4))
    await stories.keepFacts(id, 0, facts, kept(5))
    expect(await opened()).toMatchObject({ took: 4 })
  })

  test('the journal can not be rewritten', async () => {
    const id = await create(randomStory(5))
    await new Stories(database).change(id, { op: 'set-story', values: { title: 'Journal' } }, randomUUID())
    await expect(database.query("update journal set summary = 'nothing' where story_id = $1", [id])).rejects.toThrow(
      'append-only',
    )
  })

  test('a deleted story is gone until it is restored', async () => {
    const stories = new Stories(database)
    const id = await create(randomStory(6))
    expect(await stories.remove(id)).toBe(true)
    expect(await stories.open(id)).toBeUndefined()
    expect(await stories.restore(id)).toBe(true)
    expect((await stories.open(id))!.story.title).toBe('Random 6')
  })

  test('of a story that is not there, or was deleted, everything is told as nothing', async () => {
    const stories = new Stories(database)
    const deleted = await create(randomStory(7))
    await stories.open(deleted)
    await stories.remove(deleted)
    for (const id of [randomUUID(), deleted, 'no id']) {
      const told = [
        await stories.open(id),
        await stories.revisionOf(id),
        await stories.titleOf(id),
        await stories.openText(id),
        await stories.exportText(id),
        await stories.at(id, 0),
        await stories.textAt(id, 0),
        await stories.history(id),
        await stories.playtests(id),
        await stories.search(id, 'tide'),
        await stories.duplicate(id),
      ]
      expect(told).toEqual(told.map(() => undefined))
      expect(await stories.nameVersion(id, 'Before')).toBe(false)
      expect(await stories.remove(id)).toBe(false)
      const change = { op: 'set-story', values: { title: 'Nobody' } } as const
      expect(await stories.change(id, change, randomUUID())).toMatchObject({ error: { kind: 'unknown' } })
      expect(await stories.travel(id, 'undo', randomUUID())).toMatchObject({ error: { kind: 'unknown' } })
    }
  })

  test('every migration ran once, and one that was changed afterwards is refused', async () => {
    expect(await migrate(database, MIGRATIONS)).toBe(0)
    await database.query("update migration set digest = 'other' where number = 1")
    await expect(migrate(database, MIGRATIONS)).rejects.toThrow('changed after it ran')
  })
})

/** For every earlier version of the tables: they are filled as that version filled them, then brought up to date. */
const EARLIER = PLACES.flatMap((place) => [1, 2, 3].map((version) => [version, place] as const))
test.each(EARLIER)(
  'tables of version %i %s keep every story when they are brought up to date',
  async (version, place) => {
    const old = await mkdtemp(join(tmpdir(), 'paper-compass-old-'))
    const names = (await readdir(MIGRATIONS)).filter((name) => name.endsWith('.sql')).sort()
    expect(names.length).toBeGreaterThan(version)
    for (const name of names.slice(0, version)) await copyFile(join(MIGRATIONS, name), join(old, name))
    const database = await open(place, `version_${version}`)
    expect(await migrate(database, old)).toBe(version)
    await database.script(await readFile(resolve('test/fixtures/first-version.sql'), 'utf8'))
    expect(await migrate(database, MIGRATIONS)).toBe(names.length - version)
    // once is enough
    expect(await migrate(database, MIGRATIONS)).toBe(0)
    const stories = new Stories(database)
    expect((await database.query('select 1 from piece where until is not null')).length).toBeGreaterThan(0)
    const [card] = (await stories.list()).cards
    const { story, canUndo } = (await stories.open(card!.id))!
    const draft = JSON.parse(await readFile(resolve('samples/first-draft.story.json'), 'utf8')) as Story
    const known = { ...draft }
    delete known.setAside
    // written before lines could come in turn
    known.scenes = draft.scenes.map((scene) => ({
      ...scene,
      beats: scene.beats.map((beat) =>
        beat.lines ? { ...beat, lines: beat.lines.filter((line) => !('inTurn' in line)) } : beat,
      ),
    }))
    expect(canUndo).toBe(true)
    expect(isSame(story, { ...known, title: 'Kept from the first version' })).toBe(true)
    // its history goes on
    expect((await stories.travel(card!.id, 'undo', randomUUID())).ok).toBe(true)
    expect((await stories.open(card!.id))!.story.title).toBe(draft.title)
    const [scene] = draft.scenes
    expect(await stories.search(card!.id, scene!.beats[0]!.id.replaceAll('_', ' '))).not.toEqual([])
    // a program of that version leaves it alone
    await expect(migrate(database, old)).rejects.toThrow('newer version')
    await database.close()
    await rm(old, { recursive: true, force: true })
  },
)
