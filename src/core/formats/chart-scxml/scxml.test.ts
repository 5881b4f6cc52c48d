import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { default as Scxml, Statechart } from '@scion-scxml/scxml'
import { randomStory } from '../../../../bench/stories/random'
import { quay } from '../../../../test/quay'
import { seededRandom, type Random } from '../../base/random'
import { openness } from '../../play/choices'
import type { PlayState } from '../../play/state'
import { begin, decide } from '../../play/step'
import { linkStory } from '../../story/link'
import type { LinkedEntry, LinkedStory } from '../../story/linked'
import type { EntryValue, RouteItem, Story } from '../../story/types'
import { writeScxml } from './write'
import { choicesOf } from '../../story/linked-parts'

// it warns when its exports are listed, as an import does
const scxml = createRequire(import.meta.url)('@scion-scxml/scxml') as typeof Scxml

const samples = ['causeway', 'first-draft'].map(
  (name) =>
    JSON.parse(readFileSync(join(import.meta.dirname, `../../../../samples/${name}.story.json`), 'utf8')) as Story,
)

test('what is written is what the recommendation describes', () => {
  const folder = mkdtempSync(join(tmpdir(), 'paper-compass-scxml-'))
  const odd = quay([{ id: 'ledger', lines: [{ text: '-- <a> ]]> & "--' }], ending: 'across' }], { title: '№ <1>' })
  const files = [odd, { ...odd, scenes: [] }, ...samples, ...seeds(60).map((seed) => randomStory(seed))].map(
    (doc, at) => {
      const file = join(folder, `${at}.scxml`)
      writeFileSync(file, writeScxml(linkStory(doc)).text)
      return file
    },
  )
  const schema = join(import.meta.dirname, '../../../../test/schemas/scxml-1.0.xsd')
  const { status, stderr, error } = spawnSync('xmllint', ['--noout', '--nonet', '--schema', schema, ...files], {
    encoding: 'utf8',
  })
  if (error !== undefined) throw new Error(`xmllint is needed for this test: ${error.message}`)
  expect(stderr.split('\n').filter((line) => line !== '' && !line.endsWith(' validates'))).toEqual([])
  expect(status).toBe(0)
})

test('an interpreter of state charts plays generated stories as they are played here', async () => {
  let decisions = 0
  const kinds = { choice: 0, word: 0, given: 0, closed: 0, ended: 0 }
  for (const seed of seeds(220)) {
    const story = linkStory(seed <= 20 ? samples[seed % 2]! : randomStory(seed))
    const random = seededRandom(seed)
    const { text, left } = writeScxml(story)
    if (left.some((one) => one.includes('not exact'))) continue
    const isGiven = story.entries.some(({ given }) => given !== undefined)
    const first = isGiven && random.chance(0.7) ? givenNow(story, 'begin', random) : {}
    let state = begin(story, {}, first)
    // a run that never rests would go on for ever
    if (state.status === 'endless' || state.status === 'nowhere') continue
    const chart = await started(text)
    if (isGiven) {
      chart.gen({ name: 'given', data: first })
      chart.gen({ name: 'begin' })
    }
    expect({ seed, ...told(chart) }).toEqual({ seed, ...expected(story, state) })
    for (let step = 0; step < 14 && state.status !== 'ended'; step += 1) {
      kinds.closed += refusesClosed(story, state, chart)
      const item = drawn(story, state, random)
      if (item === undefined) break
      const next = decide(story, state, item)
      if (!next.ok) throw new Error(next.error)
      if (next.value.status === 'endless') break
      if ('choice' in item) chart.gen({ name: `choice.${item.choice}` })
      else if ('given' in item) chart.gen({ name: 'given', data: item.given })
      else chart.gen({ name: `word.${item.at}`, data: item.word })
      kinds['choice' in item ? 'choice' : 'given' in item ? 'given' : 'word'] += 1
      state = next.value
      decisions += 1
      expect({ seed, step, item, ...told(chart) }).toEqual({ seed, step, item, ...expected(story, state) })
    }
    kinds.ended += state.status === 'ended' ? 1 : 0
  }
  expect(decisions).toBeGreaterThan(400)
  for (const [kind, count] of Object.entries(kinds)) expect([kind, count]).not.toEqual([kind, 0])
})

test('what a state chart can not express is told', () => {
  const ledger: Story['ledger'] = [
    { id: 'sum', kind: 'counter', min: 0, max: Number.MAX_SAFE_INTEGER },
    { id: 'rope', kind: 'item', max: 3 },
  ]
  const beats = [
    {
      id: 'here',
      arrive: [{ do: ['rope += 1'] }, { do: ['sum += rope'] }],
      lines: [{ text: '{rope} coils.' }],
      choices: [{ id: 'go', text: 'Go', when: 'sum * 2 - sum * 2 == 0', to: 'quay.end' }],
    },
    { id: 'end', ending: 'across' },
  ]
  const { text, left } = writeScxml(linkStory(quay(beats, { ledger })))
  expect(left).toEqual([
    'texts that show something of the story (1) are logged as they are written',
    'quay.here#arrive2: numbers beyond 2^53 are not exact',
    'quay.here.go: numbers beyond 2^53 are not exact',
  ])
  for (const one of left) expect(text).toContain(one)
})

function seeds(count: number): number[] {
  return Array.from({ length: count }, (_, at) => at + 1)
}

function started(text: string): Promise<Statechart> {
  let isOver = false
  return new Promise((resolve, reject) =>
    scxml.documentStringToModel('story.scxml', text, (unreadable, model) => {
      // it goes on after what it can't read
      if (isOver) return
      isOver = unreadable !== null
      if (unreadable !== null) return reject(unreadable)
      model.prepare((failed, prepared) => {
        if (failed !== null) return reject(failed)
        const silent = { log: () => undefined, warn: () => undefined, error: () => undefined, info: () => undefined }
        const chart = new scxml.core.Statechart(prepared, { console: silent })
        chart.start()
        resolve(chart)
      })
    }),
  )
}

/** Where a chart stands, and what it remembers. */
function told(chart: Statechart) {
  const [configuration, , isOver, data] = chart.getSnapshot()
  const { ledger, quest, visits, taken, turns, place, at } = JSON.parse(JSON.stringify(data)) as Record<string, unknown>
  return { in: configuration.join(' '), isOver, ledger, quest, visits, taken, turns, place, at }
}

function expected(story: LinkedStory, state: PlayState) {
  const beat = story.beats[state.at]!
  const end = { choice: '-rest', stuck: beat.ask === undefined ? '-rest' : '-after', word: '-ask' }
  const { status } = state
  if (status === 'endless' || status === 'nowhere') throw new Error(status)
  const byId = <T>(list: readonly { readonly id: string }[], value: (at: number) => T) =>
    Object.fromEntries(list.map(({ id }, at) => [id, value(at)]))
  const byAddress = <T, V>(list: readonly (T & { readonly address: string })[], value: (one: T) => V) =>
    Object.fromEntries(list.map((one) => [one.address, value(one)]))
  return {
    in: status === 'ended' ? `ended-${story.endings[beat.ending]!.id}` : `${beat.address}${end[status]}`,
    isOver: status === 'ended',
    ledger: byId(story.entries, (at) => state.entries[at]),
    quest: byId(story.quests, (at) => story.quests[at]!.stages[state.stages[at]!]),
    visits: byAddress(story.inOrder, ({ index }) => state.visits[index]),
    taken: byAddress(choicesOf(story), ({ index }) => state.taken[index] === 1),
    turns: byAddress(story.turnGroups, ({ index }) => state.turns[index]),
    place: state.place === -1 ? null : story.beats[state.place]!.address,
    at: beat.address,
  }
}

/** Events of closed choices, and of values that can't be given, change nothing. */
function refusesClosed(story: LinkedStory, state: PlayState, chart: Statechart): number {
  const before = told(chart)
  let count = 0
  for (const choice of story.beats[state.at]!.choices) {
    if (state.status === 'choice' && openness(story, state, choice).open) continue
    chart.gen({ name: `choice.${choice.address}` })
    count += 1
  }
  chart.gen({ name: 'given', data: { [story.entries[0]?.id ?? 'none']: [] } })
  expect(told(chart)).toEqual(before)
  return count
}

function drawn(story: LinkedStory, state: PlayState, random: Random): RouteItem | undefined {
  const given = givenNow(story, 'rest', random)
  if (Object.keys(given).length > 0 && random.chance(0.3)) return { given }
  const beat = story.beats[state.at]!
  if (state.status === 'word') {
    const isEmpty = beat.ask!.default !== undefined && random.chance(0.5)
    return { at: beat.address, word: isEmpty ? ' ' : random.pick([' Wren', 'Odile', 'x y']) }
  }
  const open = state.status === 'choice' ? beat.choices.filter((choice) => openness(story, state, choice).open) : []
  return open.length === 0 ? undefined : { choice: random.pick(open).address }
}

function givenNow(story: LinkedStory, when: 'begin' | 'rest', random: Random): Record<string, EntryValue> {
  const entries = story.entries.filter(({ given }) => given === 'rest' || given === when)
  return Object.fromEntries(
    entries.filter(() => random.chance(0.6)).map((entry) => [entry.id, valueOf(entry, random)] as const),
  )
}

function valueOf({ kind, positions, min, max }: LinkedEntry, random: Random): EntryValue {
  switch (kind) {
    case 'flag':
      return random.chance(0.5)
    case 'switch':
      return random.pick(positions)
    case 'counter':
    case 'item':
      return min + random.below(Math.min(max - min, 5) + 1)
    case 'text':
      return random.pick(['', 'Wren', 'Odile'])
  }
}
