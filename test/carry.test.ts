import { questsAroundHub } from '../bench/stories/families'
import { randomStory } from '../bench/stories/random'
import { inOneGo } from '../src/core/base/slices'
import { seededRandom, type Random } from '../src/core/base/random'
import { replay } from '../src/core/play/replay'
import { readSave } from '../src/core/play/read-save'
import { loadSave, saveOf } from '../src/core/play/save'
import { begin, decide } from '../src/core/play/step'
import { openness } from '../src/core/play/choices'
import { linkStory } from '../src/core/story/link'
import type { Beat, Choice, Entry, Story } from '../src/core/story/types'
import { CARRIED_KINDS } from '../src/core/survey/carry/carried'
import { carryOver } from '../src/core/survey/carry/carry'
import { hubStory } from './hub-story'
import { withoutWayBack } from './onward-story'
import { carriedItems, plainCarried } from './plain/carried'
import { seeds } from './seeds'

const SEEDS = 400
const STATES_MAX = 160

/** Another version of a story, as an author might make it. */
function edited(story: Story, random: Random): Story {
  const next = structuredClone(story)
  const scene = () => random.pick(next.scenes)
  const beat = (): Beat | undefined => {
    const { beats } = scene()
    return beats.length === 0 ? undefined : random.pick(beats)
  }
  for (let edits = 2 + random.below(4); edits > 0; edits -= 1) {
    const one = beat()
    switch (random.below(10)) {
      case 0: {
        const { beats } = scene()
        if (beats.length > 1) beats.splice(random.below(beats.length), 1)
        break
      }
      case 1:
        one?.choices?.splice(random.below(one.choices.length), 1)
        break
      case 2: {
        const quest = random.pick(next.quests!)
        random.pick(quest.stages).id = 'renamed'
        break
      }
      case 3:
        if (one !== undefined) one.place = !one.place
        break
      case 4: {
        const entry = random.pick<Entry>(next.ledger!)
        if (entry.kind === 'counter' || entry.kind === 'item') entry.max = Math.max(0, entry.max - 1)
        else if (entry.kind === 'switch') entry.positions.splice(1, 1)
        else next.ledger!.splice(next.ledger!.indexOf(entry), 1)
        break
      }
      case 5:
        if (one?.choices !== undefined && one.choices.length > 0)
          random.pick(one.choices).when = random.pick([
            'coin >= 1',
            "name == 'Heron'",
            "visits('s0.b0') >= 2",
            'lit',
            "taken('s0.b0.c0')",
          ])
        break
      case 6:
        if (one !== undefined) delete one.onward
        break
      case 7:
        // a road into a stage is gone
        for (const { beats } of next.scenes)
          for (const { choices } of beats)
            for (const choice of choices ?? [])
              choice.do = choice.do?.filter((effect) => !/^quest\.\w+ = '(done|lost)'/.test(effect))
        break
      case 8:
        if (one !== undefined) {
          delete one.ask
          delete one.choices
          delete one.onward
          one.ending = 'home'
        }
        break
      default:
        for (const line of one?.lines ?? [])
          if ('inTurn' in line) line.inTurn.push({ lines: [{ text: 'More.', do: ['tide += 1'] }] })
        break
    }
  }
  return next
}

test('what becomes of saves is what becomes of each of them, loaded rule by rule', () => {
  let compared = 0
  const kinds = new Set<string>()
  for (const seed of seeds(SEEDS)) {
    const drawn = randomStory(seed, 'tiny')
    // in which quests are begun and come to their ends
    const doc = seed % 2 === 0 ? withoutWayBack(drawn) : drawn
    const [old, now] = [linkStory(doc), linkStory(edited(doc, seededRandom(seed * 7919 + 13)))]
    const plain = plainCarried(old, now, STATES_MAX)
    if (plain === undefined) continue
    compared += 1
    // one by one, and each fourth time in sets, which take longer where a beat reads much
    for (const explicit of seed % 8 < 2 ? [Infinity, 0] : [Infinity]) {
      const carried = inOneGo(carryOver(old, now, undefined, explicit))
      const items = carriedItems(carried.findings)
      const missing = [...plain].filter((item) => !items.has(item))
      const extra = [...items].filter((item) => !plain.has(item))
      expect({ seed, explicit, complete: carried.complete, missing, extra }).toEqual({
        seed,
        explicit,
        complete: true,
        missing: [],
        extra: [],
      })
      for (const { kind, route } of carried.findings) {
        kinds.add(kind)
        expect({ seed, kind, refused: replay(old, route).refused }).toEqual({ seed, kind, refused: undefined })
      }
    }
  }
  expect(compared).toBeGreaterThan(SEEDS / 3)
  expect([...kinds].sort()).toEqual([
    'carried-dead-end',
    'carried-endless',
    'carried-moved',
    'carried-no-way-out',
    'carried-stage-lost',
  ])
})

/** Another version of a story around a hub: some of what could be done there is gone. */
function cut(story: Story, random: Random): Story {
  const next = structuredClone(story)
  const [hub] = next.scenes[0]!.beats
  for (let count = 1 + random.below(3); count > 0; count -= 1)
    hub!.choices!.splice(random.below(hub!.choices!.length), 1)
  if (random.chance(0.5)) next.quests![0]!.stages[0]!.id = 'renamed'
  return random.chance(0.7)
    ? next
    : (JSON.parse(
        JSON.stringify(next).replaceAll('"hub.start"', '"hub.square"').replace('"id":"start"', '"id":"square"'),
      ) as Story)
}

test('sets of saves say what single saves say, of many quests at once', () => {
  const kinds = new Set<string>()
  for (const seed of seeds(40)) {
    const doc = hubStory(seededRandom(seed), 2 + (seed % 3))
    const [old, now] = [linkStory(doc), linkStory(cut(doc, seededRandom(seed)))]
    const [single, sets] = [Infinity, 0].map((explicit) => inOneGo(carryOver(old, now, undefined, explicit)))
    expect({ seed, ...sets, findings: [...carriedItems(sets!.findings)].sort() }).toEqual({
      seed,
      ...single,
      findings: [...carriedItems(single!.findings)].sort(),
    })
    for (const { kind, route } of sets!.findings) {
      kinds.add(kind)
      expect({ seed, kind, refused: replay(old, route).refused }).toEqual({ seed, kind, refused: undefined })
    }
  }
  expect([...kinds].sort()).toEqual(
    Object.keys(CARRIED_KINDS)
      .filter((kind) => kind !== 'carried-endless')
      .sort(),
  )
})

test('more saves than could be looked at one by one are carried over', () => {
  const doc = questsAroundHub(40, 5)
  const next = structuredClone(doc)
  const hub = next.scenes[0]!.beats[0]!
  hub.choices = hub.choices!.filter(({ id }) => id !== 'do_7_4')
  const { complete, findings, figures } = inOneGo(carryOver(linkStory(doc), linkStory(next)))
  expect(figures.saves).toBeGreaterThan(1e27)
  expect(complete).toBe(true)
  expect([...carriedItems(findings)]).toEqual([
    'carried-dead-end error hub.start in 199',
    'carried-no-way-out error hub.start in 0',
    'carried-stranded warning q7 | s0 in 1',
    'carried-stranded warning q7 | s1 in 2',
    'carried-stranded warning q7 | s2 in 3',
    'carried-stranded warning q7 | s3 in 4',
  ])
})

/** A beat with some choices, at which a quest stands that comes to outcomes by what they do, and an ending. */
function sluice(choices: Choice[], outcomes: readonly ('success' | 'failure')[]): Story {
  return {
    paperCompass: 1,
    title: 'The sluice',
    language: 'en',
    start: 'quay.morning',
    quests: [
      {
        id: 'sluice',
        name: 'Sluice',
        stages: [
          { id: 'asked', name: 'Asked' },
          ...outcomes.map((outcome) =>
            outcome === 'success' ? { id: 'mended', name: 'Mended', outcome } : { id: 'lost', name: 'Lost', outcome },
          ),
        ],
      },
    ],
    endings: [{ id: 'across', name: 'Across' }],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          { id: 'morning', choices },
          { id: 'end', ending: 'across' },
        ],
      },
    ],
  }
}

test('a quest under way whose outcome is taken away is stranded', () => {
  const ask: Choice = { id: 'ask', text: 'Ask', do: ["quest.sluice = 'asked'"], to: 'quay.morning' }
  const mend: Choice = {
    id: 'mend',
    text: 'Mend',
    when: "quest.sluice == 'asked'",
    do: ["quest.sluice = 'mended'"],
    to: 'quay.morning',
  }
  const leave: Choice = { id: 'leave', text: 'Leave', to: 'quay.end' }
  const story = (done: boolean) => sluice(done ? [ask, mend, leave] : [ask, leave], ['success'])
  const [old, now] = [linkStory(story(true)), linkStory(story(false))]
  const items = carriedItems(inOneGo(carryOver(old, now)).findings)
  expect([...items]).toEqual(['carried-stranded warning sluice | asked in 1'])
  expect(plainCarried(old, now, 2000)).toEqual(items)
})

test('saves of endings, and those for which there is nowhere to go, are told of as they are', () => {
  const story = () =>
    sluice(
      [
        { id: 'mend', text: 'Mend', do: ["quest.sluice = 'mended'"], to: 'quay.end' },
        { id: 'lose', text: 'Lose', do: ["quest.sluice = 'lost'"], to: 'quay.end' },
      ],
      ['success', 'failure'],
    )
  const changed = (change: (story: Story) => void): string[] => {
    const next = story()
    change(next)
    const [old, now] = [linkStory(story()), linkStory(next)]
    const plain = [...plainCarried(old, now, 2000)!].sort()
    for (const explicit of [Infinity, 0])
      expect([...carriedItems(inOneGo(carryOver(old, now, undefined, explicit)).findings)].sort()).toEqual(plain)
    return plain
  }
  // an outcome is none any more, but who has ended has ended
  expect(changed((next) => delete next.quests![0]!.stages[1]!.outcome)).toEqual([])
  expect(
    changed((next) => {
      delete next.scenes[0]!.beats[1]!.ending
      next.scenes[0]!.beats[0]!.ending = 'across'
    }),
  ).toEqual(['carried-dead-end error quay.end in 1', 'carried-no-way-out error quay.end in 1'])
  // neither beat nor place nor start
  expect(
    changed((next) => {
      next.start = 'quay.gone'
      next.quests![0]!.stages.pop()
      next.scenes[0]!.beats[1]!.id = 'evening'
    }),
  ).toEqual([
    'carried-dead-end error quay.morning in 0',
    'carried-moved note quay.end in 1',
    'carried-no-way-out error quay.morning in 0',
  ])
})

test('a save of the same version goes on as if it had not been put away', () => {
  let saves = 0
  for (const seed of seeds(80)) {
    const story = linkStory(randomStory(seed))
    const random = seededRandom(seed)
    let state = begin(story)
    for (let step = 0; step < 12 && (state.status === 'choice' || state.status === 'word'); step += 1) {
      const text = JSON.stringify(saveOf(story, state))
      const read = readSave(text)
      if (!read.ok) throw new Error(read.error.message)
      const loaded = loadSave(story, read.value)
      expect({ seed, moved: loaded.moved, save: saveOf(story, loaded.state) }).toEqual({
        seed,
        moved: false,
        save: JSON.parse(text),
      })
      saves += 1
      const beat = story.beats[state.at]!
      const open = beat.choices.filter((choice) => openness(story, state, choice).open)
      const item = state.status === 'word' ? { at: beat.address, word: 'Wren' } : { choice: random.pick(open).address }
      const [next, after] = [decide(story, state, item), decide(story, loaded.state, item)]
      if (!next.ok || !after.ok) throw new Error('refused')
      expect({ seed, save: saveOf(story, after.value) }).toEqual({ seed, save: saveOf(story, next.value) })
      state = next.value
    }
  }
  expect(saves).toBeGreaterThan(150)
})

test('a save that is damaged, or of something else, is refused with what is wrong with it', () => {
  expect(readSave('{')).toMatchObject({ ok: false, error: { message: expect.stringContaining('not JSON') as unknown } })
  expect(readSave('{"paperCompass":1}')).toMatchObject({
    ok: false,
    error: { message: expect.stringContaining('paperCompassSave') as unknown },
  })
  const story = linkStory(randomStory(3))
  const save = saveOf(story, begin(story))!
  expect(readSave(JSON.stringify({ ...save, visits: { 's0.b0': -1 } }))).toMatchObject({ ok: false })
  // of another story: nothing in it is known, and one is at the start
  const other = loadSave(story, {
    ...save,
    at: 'else.where',
    place: 'else.where',
    ledger: { __proto__: null, lit: 'yes' } as never,
    visits: { 'else.where': 3 },
  })
  expect(other.moved).toBe(true)
  expect(story.beats[other.state.at]).toBeDefined()
})
