import { spawn, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { cp, mkdir, mkdtemp, readdir, readFile, rm, truncate, writeFile } from 'node:fs/promises'
import { fsyncSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { randomUUID } from 'node:crypto'
import { randomStory } from '../bench/stories/random'
import { backUpDaily, BACKUPS_KEPT, listBackups, readBackup, writeBackup } from '../src/store/backup'
import { fill as fillStore } from '../src/store/fill'
import { DamagedFolder, openFolder } from '../src/store/folder'
import { ownFolder, type Ownership } from '../src/store/folder-owner'
import { migrate } from '../src/store/migrate'
import { openPglite } from '../src/store/pglite'
import { Stories } from '../src/store/stories'

const MIGRATIONS = resolve('src/store/migrations')

let folder: string

/** A database without tables. */
const bare = (name: string, options: Parameters<typeof openPglite>[1] = {}) => openPglite(join(folder, name), options)

beforeEach(async () => void (folder = await mkdtemp(join(tmpdir(), 'paper-compass-data-'))))
afterEach(() => rm(folder, { recursive: true, force: true }))

describe('the owner of a data folder', () => {
  test('of many who want it at the same time exactly one gets it, and the next when it is given up', async () => {
    for (let round = 0; round < 15; round += 1) {
      const asked = await Promise.all(Array.from({ length: 6 }, () => ownFolder(folder)))
      const owners = asked.flatMap((one) => (one.ok ? [one.value] : []))
      expect(owners).toHaveLength(1)
      for (const one of asked) if (!one.ok) expect(one.error).toMatch(/in use by another process/)
      await owners[0]!.release()
    }
    expect(await readdir(join(folder, 'owners'))).toEqual(['owner'])
  })

  /** Another process that holds the folder as a server does. */
  async function holder(): Promise<ChildProcess> {
    const places = join(folder, 'owners')
    await mkdir(places, { recursive: true })
    const script = `
      const name = process.pid + '-abc.sock'
      require('node:fs').writeFileSync(${JSON.stringify(join(places, 'owner'))}, name)
      require('node:net').createServer().listen(${JSON.stringify(places)} + '/' + name, () => console.log('held'))`
    const child = spawn(process.execPath, ['-e', script], { stdio: ['ignore', 'pipe', 'inherit'] })
    await once(child.stdout, 'data')
    return child
  }

  test('a process that stands still keeps it, one that was killed has it no more', async () => {
    const child = await holder()
    child.kill('SIGSTOP')
    expect(await ownFolder(folder)).toEqual({ ok: false, error: expect.stringContaining(`(${child.pid})`) })
    child.kill('SIGKILL')
    await once(child, 'exit')
    expect(await readdir(join(folder, 'owners'))).toHaveLength(2)
    const asked = await Promise.all([ownFolder(folder), ownFolder(folder), ownFolder(folder)])
    const owners = asked.flatMap((one) => (one.ok ? [one.value] : []))
    expect(owners).toHaveLength(1)
    await owners[0]!.release()
  })

  test('a folder with a very long path has one owner too', async () => {
    const long = join(folder, 'x'.repeat(120), 'y'.repeat(120))
    const first = await ownFolder(long)
    expect(first.ok).toBe(true)
    expect((await ownFolder(long)).ok).toBe(false)
    if (first.ok) await first.value.release()
  })

  test('an owner whose folder is taken away is told', async () => {
    const owner = await ownFolder(folder)
    const { lost } = (owner as { value: Ownership }).value
    await rm(join(folder, 'owners'), { recursive: true })
    expect(await lost).toContain('taken away')
    await (owner as { value: Ownership }).value.release()
  })
})

describe('what is on disk', () => {
  const fill = async (database: Parameters<typeof migrate>[0]) => void (await migrate(database, MIGRATIONS))

  test('an edit that is answered was written to disk before', async () => {
    let synced = 0
    const database = await bare('db', {
      sync: (descriptor) => {
        synced += 1
        fsyncSync(descriptor)
      },
    })
    await migrate(database, MIGRATIONS)
    const stories = new Stories(database)
    const id = await stories.create(randomStory(1))
    for (let edit = 0; edit < 5; edit += 1) {
      const before = synced
      const title = `Title ${edit}`
      expect((await stories.change(id, { op: 'set-story', values: { title } }, randomUUID())).ok).toBe(true)
      expect(synced).toBeGreaterThan(before)
    }
    await database.close()
  })

  test('a new folder has the samples, with what was found of them, as if they were read and surveyed now', async () => {
    const places = { migrations: MIGRATIONS, samples: resolve('samples') }
    const filled: string[] = []
    const open = (name: string, prepared: 'samples' | 'tables') =>
      openFolder(
        join(folder, name),
        async (database) => {
          if (await new Stories(database).isEmpty().catch(() => true)) filled.push(name)
          await fillStore(database, places)
        },
        prepared,
      )
    const told = async (name: string, prepared: 'samples' | 'tables') => {
      await mkdir(join(folder, name))
      const database = await open(name, prepared)
      const { cards } = await new Stories(database).list()
      await database.close()
      return cards.map(({ id: _, changedAt: __, ...card }) => card)
    }
    const [made, read] = [await told('made', 'samples'), await told('read', 'tables')]
    expect(made).toEqual(read)
    expect(made.length).toBeGreaterThan(1)
    expect(filled).toEqual(['read'])
  })

  test('a folder that is damaged is told of and left as it is; an empty postmaster.pid does not matter', async () => {
    await (await bare('db')).close()
    const database = await openFolder(folder, fill)
    const id = await new Stories(database).create(randomStory(2))
    await database.close()
    await writeFile(join(folder, 'db', 'postmaster.pid'), '')
    const again = await openFolder(folder, fill)
    expect(await new Stories(again).titleOf(id)).toBe('Random 2')
    await again.close()
    const whole = join(folder, 'whole')
    await cp(join(folder, 'db'), whole, { recursive: true })
    const damage: [string, (db: string) => Promise<void>][] = [
      ['PG_VERSION is missing', (db) => rm(join(db, 'PG_VERSION'))],
      ['PG_VERSION in it is empty', (db) => truncate(join(db, 'PG_VERSION'))],
      ['PostgreSQL 12', (db) => writeFile(join(db, 'PG_VERSION'), '12\n')],
      ['global/pg_control is missing', (db) => rm(join(db, 'global', 'pg_control'))],
      ['pg_wal is missing', (db) => rm(join(db, 'pg_wal'), { recursive: true })],
      ['can not start on it', (db) => writeFile(join(db, 'global', 'pg_control'), Buffer.alloc(8192, 7))],
    ]
    for (const [said, harm] of damage) {
      await rm(join(folder, 'db'), { recursive: true })
      await cp(whole, join(folder, 'db'), { recursive: true })
      await harm(join(folder, 'db'))
      const before = (await readdir(join(folder, 'db'), { recursive: true })).sort()
      const refused = await openFolder(folder, fill).catch((error: unknown) => error)
      expect(refused).toBeInstanceOf(DamagedFolder)
      expect((refused as Error).message).toContain(said)
      expect((refused as Error).message).toContain('restore FILE')
      const after = (await readdir(join(folder, 'db'), { recursive: true })).sort()
      expect(after.filter((name) => name !== 'postmaster.pid')).toEqual(before)
    }
    // the copy is whole still
    await rm(join(folder, 'db'), { recursive: true })
    await cp(whole, join(folder, 'db'), { recursive: true })
    const mended = await openFolder(folder, fill)
    expect(await new Stories(mended).titleOf(id)).toBe('Random 2')
    await mended.close()
  })

  test('a first start that was ended in the middle leaves nothing in the way of the next', async () => {
    await mkdir(join(folder, 'db.new-12345678', 'base'), { recursive: true })
    const database = await openFolder(folder, fill)
    await database.close()
    expect((await readdir(folder)).sort()).toEqual(['db'])
  })
})

describe('backups', () => {
  test('a backup brings back every story with its history; one that is cut off or broken is refused whole', async () => {
    const database = await bare('db')
    await migrate(database, MIGRATIONS)
    const stories = new Stories(database)
    const id = await stories.create(randomStory(7))
    const first = await stories.textAt(id, 0)
    for (let edit = 0; edit < 12; edit += 1)
      await stories.change(id, { op: 'set-story', values: { notes: `note ${edit} \u{1F9ED}` } }, randomUUID())
    await stories.nameVersion(id, 'Kept')
    const record = {
      paperCompassPlaytest: 1 as const,
      story: id,
      version: '12',
      title: 'x\u0000y',
      language: 'en',
      // what only looks like a NUL stays as it is
      note: 'C:\\u0000\\x',
      steps: [
        { item: { choice: 'a.b.c' }, at: 'a.b', seconds: 1.5 },
        { item: { given: { 'f\0og': '\0' } }, at: 'a.b', seconds: 1 },
      ],
      stopped: { at: 'a.b', status: 'choice', seconds: 2 },
    }
    // the same record is kept once
    expect([await stories.addPlaytest(id, 'Wren', record), await stories.addPlaytest(id, 'Again', record)]).toEqual([
      true,
      false,
    ])
    expect(await stories.addPlaytest(randomUUID(), 'Nobody', record)).toBeUndefined()
    const file = join(folder, 'all.backup.gz')
    await writeBackup(database, file, new Date(0))
    const last = await stories.exportText(id)
    await database.close()

    const other = await bare('other')
    await readBackup(other, file, MIGRATIONS)
    const back = new Stories(other)
    expect(await back.exportText(id)).toEqual(last)
    expect(await back.textAt(id, 0)).toBe(first)
    expect((await back.history(id))!.versions).toMatchObject([{ name: 'Kept', revision: 12 }])
    expect(await back.playtests(id)).toMatchObject([
      {
        name: 'Wren',
        record: {
          title: 'x\uFFFDy',
          note: record.note,
          steps: [record.steps[0], { item: { given: { 'f\uFFFDog': '\uFFFD' } } }],
        },
      },
    ])
    expect((await back.travel(id, 'undo', randomUUID())).ok).toBe(true)
    expect(JSON.parse((await back.openText(id))!)).toMatchObject({ story: { notes: `note 10 \u{1F9ED}` } })
    await other.close()

    const bytes = await readFile(file)
    const empty = await bare('empty')
    for (const [name, content] of [
      ['cut', bytes.subarray(0, bytes.length / 2)],
      ['none', Buffer.alloc(0)],
      ['other', Buffer.from('{"paperCompass":1}')],
    ] as const) {
      const broken = join(folder, `${name}.backup.gz`)
      await writeFile(broken, content)
      await expect(readBackup(empty, broken, MIGRATIONS)).rejects.toThrow()
      expect(await empty.query("select 1 from information_schema.tables where table_name = 'story'")).toEqual([])
    }
    await empty.close()
  })

  test('a start after a day makes a backup, and so many are kept', async () => {
    const database = await bare('db')
    await migrate(database, MIGRATIONS)
    const day = 24 * 60 * 60 * 1000
    const now = Date.now()
    expect(await backUpDaily(database, folder, new Date(now))).toBeDefined()
    expect(await backUpDaily(database, folder, new Date(now + day / 2))).toBeUndefined()
    for (let days = 1; days < BACKUPS_KEPT + 3; days += 1)
      expect(await backUpDaily(database, folder, new Date(now + days * (day + 60_000) + days * 1000))).toBeDefined()
    const kept = await listBackups(folder)
    expect(kept).toHaveLength(BACKUPS_KEPT)
    expect([...kept].sort()).toEqual(kept)
    await database.close()
  })
})
