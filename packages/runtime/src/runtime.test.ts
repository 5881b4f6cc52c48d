import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { ensureRuntime } from '../../../scripts/build-runtime.mjs'
import type { Story } from '../../../src/core/story/types'
import { bundleStory } from './from-story'
import { loadBundle, RuntimeError, type Playthrough } from './index'
import { quay } from '../../../test/quay'

const story = (more: Partial<Story> = {}): Story =>
  quay(
    [
      {
        id: 'here',
        place: true,
        lines: [{ id: 'first', speaker: 'odile', text: 'The tide.', cues: [{ cue: 'bell', with: 'twice' }] }],
        choices: [
          {
            id: 'rope',
            text: 'Rope',
            do: ['rope += 1', "quest.cross = 'asked'"],
            cues: [{ cue: 'bell' }],
            to: 'return',
          },
          { id: 'go', text: 'Go', when: 'rope >= 2 && !fog', closed: 'show', to: 'quay.log' },
        ],
      },
      { id: 'log', ask: { into: 'who', prompt: 'Who?' }, onward: [{ to: 'quay.end' }] },
      { id: 'end', lines: [{ text: 'Bye, {who}.' }], ending: 'across' },
    ],
    {
      cast: [{ id: 'odile', name: 'Odile', called: [{ when: "visits('quay.here') < 2", name: 'the toll-keeper' }] }],
      cues: [{ id: 'bell', name: 'The bell' }],
      ledger: [
        { id: 'rope', kind: 'item', max: 3, name: 'Coil of rope' },
        { id: 'fog', kind: 'flag', given: 'rest' },
        { id: 'earlier', kind: 'flag', given: 'begin' },
        { id: 'who', kind: 'text' },
      ],
      quests: [{ id: 'cross', name: 'Cross over', stages: [{ id: 'asked', name: 'Asked', journal: '{rope} coils.' }] }],
      languages: {
        de: { texts: { 'line/quay.here/first': { text: 'Die Flut.' }, 'choice/quay.here.go': { text: 'Los' } } },
      },

      ...more,
    },
  )
const playable = (more?: Partial<Story>) => loadBundle(bundleStory(story(more)).bundle)

const refusal = (work: () => unknown): Pick<RuntimeError, 'of' | 'message'> => {
  try {
    work()
  } catch (error) {
    if (error instanceof RuntimeError) return { of: error.of, message: error.message }
    throw error
  }
  throw new Error('nothing was refused')
}

test('the face tells all that a game needs, and events come in order once the story rests', () => {
  const game = playable().begin({ given: { earlier: true }, keepRoute: true })
  expect(game.lines).toEqual([
    {
      text: 'The tide.',
      speaker: 'odile',
      name: 'the toll-keeper',
      manner: 'speech',
      key: 'line/quay.here/first',
      beat: 'quay.here',
      cues: [{ id: 'bell', name: 'The bell', with: 'twice' }],
    },
  ])
  expect(game.choices[1]).toEqual({
    id: 'quay.here.go',
    text: 'Go',
    open: false,
    why: {
      kind: 'gate',
      parts: [{ words: 'Coil of rope is at least 2', saw: [{ id: 'rope', name: 'Coil of rope', value: 0 }] }],
    },
  })
  const heard: unknown[] = []
  for (const name of ['did', 'line', 'cue', 'entry', 'stage', 'beat', 'rest'] as const)
    game.on(name, (what) =>
      heard.push([name, typeof what === 'object' && 'text' in what ? what.text : what, game.ledger['rope']]),
    )
  game.choose('quay.here.rope')
  expect(heard).toEqual([
    ['did', { choice: 'quay.here.rope' }, 1],
    ['cue', { id: 'bell', name: 'The bell' }, 1],
    ['entry', { id: 'rope', from: 0, to: 1 }, 1],
    ['stage', { quest: 'cross', from: 'unstarted', to: 'asked' }, 1],
    ['beat', 'quay.here', 1],
    ['line', 'The tide.', 1],
    ['cue', { id: 'bell', name: 'The bell', with: 'twice' }, 1],
    ['rest', 'choice', 1],
  ])
  expect(game.lines[0]!.name).toBe('Odile')
  expect(game.journal).toMatchObject([{ name: 'Cross over', stageName: 'Asked', text: '1 coils.' }])
  expect(game.bag).toEqual([{ id: 'rope', name: 'Coil of rope', count: 1 }])
  game.choose('quay.here.rope').choose('quay.here.go').say(' Wren ')
  expect([game.status, game.ending, game.lines[0]!.text]).toEqual([
    'ended',
    { id: 'across', name: 'Across' },
    'Bye, Wren.',
  ])
  expect(game.route).toHaveLength(5)
})

test('what can not be done is refused with what was expected, and nothing has changed', () => {
  const game = playable().begin()
  const before = JSON.stringify(game.save())
  const refused = [
    refusal(() => game.choose('quay.here.go')),
    refusal(() => game.choose('quay.nowhere')),
    refusal(() => game.say('Wren')),
    refusal(() => game.give({ fog: 1 })),
    refusal(() => game.give({ rope: 1 })),
    refusal(() => game.give({ earlier: true })),
    refusal(() => game.give({ smoke: true })),
    refusal(() => (game.language = 'xx')),
    refusal(() => game.load('{"paperCompassSave":1')),
    refusal(() => game.load('{"paperCompassSave":1,"at":"quay.here","status":"asleep"}')),
    refusal(() => game.load({ ...game.save(), visits: { 'quay.here': -1 } })),
  ]
  expect(refused.map(({ of }) => of)).toEqual([
    ...['choice', 'choice', 'word', 'given', 'given', 'given', 'given', 'language', 'save', 'save', 'save'],
  ])
  expect(refused[3]!.message).toBe('"fog" can not be 1')
  expect(refused[9]!.message).toBe(
    'this save can not be read: status: expected one of choice, word, ended, stuck, found "asleep"',
  )
  expect(JSON.stringify(game.save())).toBe(before)
  expect(refusal(() => playable().begin({ given: { who: 'x' } })).of).toBe('given')
  expect(refusal(() => loadBundle('{"paperCompassBundle":1,"title":"A qu')).message).toMatch(
    /not JSON, it may have been cut off/,
  )
  expect(refusal(() => loadBundle({})).message).toMatch(/^this bundle can not be read: paperCompassBundle: expected 1/)
})

test('a story with problems plays by the contract', () => {
  const broken = story()
  broken.scenes[0]!.beats[0]!.lines!.push({ when: 'ropes > 1', text: 'Never said.' }, { text: 'As {written' })
  broken.scenes[0]!.beats[0]!.choices!.push({ id: 'off', text: 'Off', to: 'nowhere.at_all' })
  const { bundle, problems } = bundleStory(broken)
  expect(problems.map(({ address, part }) => `${address} ${part}`)).toEqual([
    'quay.here#line2 when',
    'quay.here#line3 text',
    'quay.here.off to',
  ])
  const game = loadBundle(bundle).begin()
  expect(game.lines.map(({ text }) => text)).toEqual(['The tide.', 'As {written'])
  expect(game.choices.map(({ id }) => id)).toEqual(['quay.here.rope', 'quay.here.go'])
  expect(refusal(() => bundleStory('{"paperCompass":1}')).message).toMatch(/title: this key is missing/)
})

test('a save goes into another version and another story, and tells what was lost', () => {
  const game = playable().begin().choose('quay.here.rope')
  const save = JSON.stringify(game.save())
  const gone = story({ ledger: [{ id: 'rope', kind: 'item', max: 1 }], quests: [] })
  gone.scenes[0]!.beats[0]!.choices = [{ id: 'go', text: 'Go', to: 'quay.end' }]
  gone.scenes[0]!.beats.splice(1, 1)
  gone.scenes[0]!.beats[1]!.lines = []
  const other = loadBundle(bundleStory(gone).bundle).begin()
  expect(other.load(save)).toEqual({ moved: false, lost: ['fog', 'earlier', 'who', 'cross', 'quay.here.rope'] })
  expect(other.ledger).toEqual({ rope: 1 })
  const foreign = story({ start: 'mill.yard' })
  foreign.scenes = [
    { id: 'mill', title: 'Mill', beats: [{ id: 'yard', lines: [{ text: 'Sails.' }], ending: 'across' }] },
  ]
  const mill = loadBundle(bundleStory(foreign).bundle).begin()
  expect(mill.load(save)).toMatchObject({ moved: true, lost: ['quay.here', 'quay.here.rope'] })
  expect(mill.beat).toBe('mill.yard')
})

test('languages fall back to the story’s own, and what is asked turns at once', () => {
  const game = playable().begin({ language: 'de' })
  expect([game.lines[0]!.text, game.choices.map(({ text }) => text)]).toEqual(['Die Flut.', ['Rope', 'Los']])
  game.language = 'en'
  expect(game.choices.map(({ text }) => text)).toEqual(['Rope', 'Go'])
})

test('another version taken up while it runs says what is on the screen anew', () => {
  const game = playable().begin({ keepRoute: true }).choose('quay.here.rope')
  const newer = story()
  newer.scenes[0]!.beats[0]!.lines![0] = { id: 'first', speaker: 'odile', text: 'The tide, and {rope}.' }
  const told: string[][] = []
  game.on('revised', (lines) => told.push(lines.map(({ text }) => text)))
  expect(game.update(loadBundle(bundleStory(newer).bundle))).toEqual({ moved: false, lost: [] })
  expect(told).toEqual([['The tide, and 1.']])
  expect(game.lines.map(({ text }) => text)).toEqual(['The tide, and 1.'])
  game.update(loadBundle(bundleStory(newer).bundle))
  expect(told).toHaveLength(1)
  expect(game.route).toEqual([{ choice: 'quay.here.rope' }])
})

test('turns of the order any are picked by the seed, all of them, and a save keeps it', () => {
  const turns = story()
  turns.scenes[0]!.beats[0]!.lines = [{ order: 'any', inTurn: [1, 2, 3].map((at) => ({ lines: [{ text: `${at}` }] })) }]
  const bundle = loadBundle(bundleStory(turns).bundle)
  const said = (game: Playthrough, times: number) =>
    Array.from({ length: times }, () => game.choose('quay.here.rope').lines[0]!.text).join('')
  expect(said(bundle.begin(), 6)).toBe('111111')
  const seeded = said(bundle.begin({ seed: 5 }), 40)
  expect(new Set(seeded)).toEqual(new Set(['1', '2', '3']))
  expect(said(bundle.begin({ seed: 5 }), 40)).toBe(seeded)
  expect(said(bundle.begin({ seed: 6 }), 40)).not.toBe(seeded)
  const game = bundle.begin({ seed: 5 })
  said(game, 10)
  expect(said(bundle.begin({ save: JSON.stringify(game.save()) }), 30)).toBe(seeded.slice(10))
})

test('a hundred thousand visits are a game like any other', () => {
  const game = playable().begin()
  for (let visit = 0; visit < 100_000; visit += 1) game.choose('quay.here.rope')
  expect([game.visits['quay.here'], game.ledger['rope']]).toEqual([99, 3])
  expect(JSON.stringify(game.save()).length).toBeLessThan(1000)
})

test('its declarations are understood by a program of either kind of module', async () => {
  const dist = await ensureRuntime()
  const folder = mkdtempSync(join(tmpdir(), 'paper-compass-consumer-'))
  mkdirSync(join(folder, 'node_modules'))
  symlinkSync(resolve(dist, '..'), join(folder, 'node_modules', 'paper-compass-runtime'))
  const program = `
    import { loadBundle, RuntimeError, type Choice, type Playthrough } from 'paper-compass-runtime'
    import { bundleStory } from 'paper-compass-runtime/story'
    import { joinDesk } from 'paper-compass-runtime/live'
    const game: Playthrough = loadBundle(bundleStory('').bundle).begin({ given: { fog: true } })
    game.on('line', ({ text, name }) => console.log(text.length, name?.length))
    const open: readonly Choice[] = game.choices.filter((choice) => choice.open)
    const line = joinDesk(game, { key: 'x', name: 'y' })
    // @ts-expect-error a choice is taken by its name
    game.choose(1)
    export { open, line, RuntimeError }
  `
  writeFileSync(join(folder, 'esm.mts'), program)
  writeFileSync(join(folder, 'cjs.cts'), program)
  const options = ['--module', 'nodenext', '--strict', '--noEmit', '--target', 'es2022', '--lib', 'es2022,dom']
  const { status, stdout } = spawnSync(resolve('node_modules/.bin/tsc'), [...options, 'esm.mts', 'cjs.cts'], {
    cwd: folder,
    encoding: 'utf8',
  })
  expect([status, stdout]).toEqual([0, ''])
})

test('the examples of its page run', () => {
  const page = readFileSync(resolve('packages/runtime/README.md'), 'utf8')
  const blocks = [...page.matchAll(/```js\n([\s\S]*?)```/g)].map(([, code]) => code!)
  const code = blocks
    .filter((block) => !block.includes('joinDesk'))
    .join('\n')
    .replaceAll(/^import .*$/gm, '')
  const said: unknown[] = []
  const sample = readFileSync(resolve('samples/causeway.story.json'), 'utf8')
  const { bundle } = bundleStory(sample)
  const first = 'const textOfTheBundle = JSON.stringify(sampleBundle)\n'
  const run = new Function(
    ...['loadBundle', 'bundleStory', 'sampleBundle', 'textOfTheStory', 'say', 'console'],
    // the sample asks for a name before the quay is there
    `${first}${code.replace("game.choose('quay.morning.talk_odile')", '').replace("game.say('Wren')", "game.say('Wren').choose('quay.morning.talk_odile')").replaceAll('const { bundle, problems }', 'const { bundle: made, problems }')}\nreturn { game, moved, lost, problems }`,
  ) as (...given: unknown[]) => { game: Playthrough; moved: boolean; lost: string[]; problems: unknown[] }
  const { game, moved, lost, problems } = run(
    loadBundle,
    bundleStory,
    bundle,
    sample,
    (line: unknown) => said.push(line),
    {
      log: (...words: unknown[]) => said.push(words),
    },
  )
  expect({ beat: game.beat, language: game.language, moved, lost, problems }).toEqual({
    beat: 'quay.odile',
    language: 'de',
    moved: false,
    lost: [],
    problems: [],
  })
  expect(said.length).toBe(2)
})
