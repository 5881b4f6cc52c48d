import { randomUUID } from 'node:crypto'
import { mkdtemp, readdir, rm, stat } from 'node:fs/promises'
import { cpus, tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { StoreClient } from '../src/store/worker/client'
import { ordinary } from './stories/families'

/** What the store costs: an edit, the disk, any point of a long history, a full library, and very large stories. */

const print = (name: string, value: string) => console.log(`${name.padEnd(58)} ${value}`)
const ms = (from: number) => `${Math.round(performance.now() - from)} ms`

async function bytesOf(folder: string): Promise<number> {
  let sum = 0
  for (const name of await readdir(folder, { recursive: true })) {
    const found = await stat(join(folder, name)).catch(() => undefined)
    if (found?.isFile()) sum += found.size
  }
  return sum
}

const encode = (json: unknown) => new Uint8Array(Buffer.from(JSON.stringify(json)))
const folder = await mkdtemp(join(tmpdir(), 'paper-compass-bench-'))
const edits = Number(process.env.EDITS || 5_000)
const large = Number(process.env.BEATS || 100_000)
console.log(`${cpus().length} × ${cpus()[0]?.model ?? 'unknown'} · node ${process.version}`)
const begun = performance.now()
const store = await StoreClient.open({
  data: folder,
  migrations: resolve('src/store/migrations'),
  samples: resolve('samples'),
  thread: resolve('dist/server/thread.mjs'),
  reader: resolve('dist/server/reader.mjs'),
})
print('a new data folder', ms(begun))

const story = ordinary(500)
const imported = await store.ask('importText', encode(story))
if (!imported.ok) throw new Error(imported.error.message)
const id = imported.value
const [scene] = story.scenes
const before = await bytesOf(folder)
let longest = 0
const from = performance.now()
for (let edit = 0; edit < edits; edit += 1) {
  const at = edit % scene!.beats.length
  const was = scene!.beats[at]!
  const item = { ...was, lines: [{ text: `Edit ${edit}: the tide turns.` }, ...(was.lines ?? []).slice(1)] }
  scene!.beats[at] = item
  const one = performance.now()
  const saved = await store.ask(
    'change',
    id,
    encode({
      request: randomUUID(),
      change: { op: 'replace', in: { list: 'beats', scene: scene!.id }, id: item.id, at, item, was },
    }),
  )
  longest = Math.max(longest, performance.now() - one)
  if (!saved.ok) throw new Error(saved.error.message)
}
print(
  `${edits} edits of a story of 500 beats, each`,
  `${((performance.now() - from) / edits).toFixed(1)} ms, longest ${Math.round(longest)} ms`,
)
print(
  'the folder grew, an edit',
  `${((await bytesOf(folder)) - before) / edits / 1000 < 0 ? 0 : (((await bytesOf(folder)) - before) / edits / 1000).toFixed(1)} kB`,
)
for (const point of [0, Math.floor(edits / 2), edits - 1]) {
  const asked = performance.now()
  await store.ask('textAt', id, point)
  print(`the story after ${point} of ${edits} edits`, ms(asked))
}
for (let times = 1; times <= 14; times += 1) {
  const asked = performance.now()
  const { revision } = JSON.parse((await store.ask('openText', id))!) as { revision: number }
  await store.ask('returnTo', id, times % 2 === 0 ? revision - 1 : 0, randomUUID())
  if (times === 1 || times === 14) print(`returning for the ${times === 1 ? '1st' : '14th'} time`, ms(asked))
}

const cards = performance.now()
for (let at = 0; at < 10_000; at += 1) await store.ask('create', `Story ${at}`, 'en')
print('10,000 stories made', ms(cards))
for (const asked of [{}, { from: 9_950 }, { text: 'story 77' }]) {
  const one = performance.now()
  const { cards: shown } = await store.ask('list', asked)
  print(`of 10,000 stories ${JSON.stringify(asked)}, ${shown.length} cards`, ms(one))
}

/** The longest that a small question waits while something large goes on. */
async function beside<T>(name: string, work: () => Promise<T>): Promise<T> {
  let worst = 0
  let going = true
  const asking = (async () => {
    while (going) {
      const one = performance.now()
      await store.ask('titleOf', id)
      worst = Math.max(worst, performance.now() - one)
      await new Promise((done) => setTimeout(done, 5))
    }
  })()
  const asked = performance.now()
  const done = await work()
  const took = ms(asked)
  going = false
  await asking
  print(`${name} (${large} beats)`, `${took}; a small question beside it at most ${Math.round(worst)} ms`)
  return done
}
const text = encode(ordinary(large))
print('a story file', `${(text.length / 1e6).toFixed(1)} MB`)
const huge = await beside('import', () => store.ask('importText', text))
if (!huge.ok) throw new Error(huge.error.message)
const opened = await beside('opening', () => store.ask('openText', huge.value))
print('what a page is sent', `${(opened!.length / 1e6).toFixed(1)} MB`)
await beside('opening again', () => store.ask('openText', huge.value))
await beside('duplicating', () => store.ask('duplicate', huge.value))
await beside('exporting', () => store.ask('exportText', huge.value))
await beside('searching', () => store.ask('search', huge.value, 'tide'))
await beside('a backup', () => store.ask('backUp'))
const closing = performance.now()
await store.close()
print('closing', ms(closing))
await rm(folder, { recursive: true, force: true })
