import { readFileSync } from 'node:fs'
import { questsAroundHub } from '../../../bench/stories/families'
import { randomStory } from '../../../bench/stories/random'
import { seededRandom } from '../base/random'
import { openness } from '../play/choices'
import { begin, decide } from '../play/step'
import type { PlayState } from '../play/state'
import { linkStory } from '../story/link'
import type { LinkedStory } from '../story/linked'
import { readStory } from '../story/read'
import { withPlainLines, type Story } from '../story/types'
import { sameVerdicts } from '../story/verdict-key'
import { Bearings } from './questions/bearing'
import { Survey } from './survey'
import { whyNot } from './questions/why-not'
import { wordDomains } from './summaries/word-domains'
import { seeds } from '../../../test/seeds'

function surveyed(story: LinkedStory): Survey {
  const survey = new Survey(story)
  while (!survey.advance());
  return survey
}

/** Every resting state by plain play, with what follows each; undefined when there are many. */
function explore(story: LinkedStory): Map<string, { state: PlayState; next: string[] }> | undefined {
  const words = wordDomains(story)
  const nodes = new Map<string, { state: PlayState; next: string[] }>()
  const name = (state: PlayState) =>
    JSON.stringify([
      state.status,
      state.at,
      state.place,
      state.entries,
      state.stages,
      [...state.visits],
      [...state.taken],
    ])
  const queue: PlayState[] = []
  const add = (state: PlayState): string[] => {
    if (state.status === 'endless' || state.status === 'nowhere') return []
    const key = name(state)
    if (!nodes.has(key)) {
      nodes.set(key, { state, next: [] })
      queue.push(state)
    }
    return [key]
  }
  add(begin(story))
  for (const state of queue) {
    if (nodes.size > 300) return undefined
    const beat = story.beats[state.at]!
    const node = nodes.get(name(state))!
    const decisions =
      state.status === 'word'
        ? (beat.ask!.into === -1
            ? ['Quillon']
            : words.get(beat.ask!.into)!.typable.map((at) => words.get(beat.ask!.into)!.values[at]!)
          ).map((word) => ({ at: beat.address, word }))
        : state.status === 'choice'
          ? beat.choices
              .filter((choice) => openness(story, state, choice).open)
              .map((choice) => ({ choice: choice.address }))
          : []
    for (const decision of decisions) {
      const next = decide(story, state, decision)
      if (!next.ok) throw new Error(next.error)
      node.next.push(...add(next.value))
    }
  }
  return nodes
}

test('a bearing shows just the values that occur at a beat and the endings that can still come', () => {
  let compared = 0
  for (const seed of seeds(300)) {
    const story = linkStory(randomStory(seed, 'tiny'))
    // what the game gives may be anything
    if (story.entries.some(({ given }) => given !== undefined)) continue
    const nodes = explore(story)
    if (nodes === undefined) continue
    const bearings = new Bearings(surveyed(story))
    const domains = wordDomains(story)
    const futures = (key: string) => {
      const seen = new Set([key])
      for (const one of seen) for (const next of nodes.get(one)!.next) seen.add(next)
      return [...seen].map((one) => nodes.get(one)!.state).filter((state) => state.status === 'ended')
    }
    for (const beat of story.inOrder) {
      // a beat that may go on by itself is passed as well as rested at, which resting states do not show
      if (beat.onward.length > 0 && beat.ask === undefined) continue
      const bearing = bearings.of(beat.address)!
      const here = [...nodes].filter(
        ([, { state }]) => state.at === beat.index && !(beat.ask !== undefined && state.status === 'stuck'),
      )
      if (here.length === 0) continue
      for (const { of, id, values, anyWord } of bearing.values) {
        if (values === undefined) continue
        const named = (value: unknown) => {
          const domain = of === 'entry' ? domains.get(story.entryOf.get(id)!) : undefined
          return domain === undefined || domain.values.indexOf(String(value)) < domain.others
        }
        const found = here.map(([, { state }]) =>
          of === 'quest'
            ? story.quests[story.questOf.get(id)!]!.stages[state.stages[story.questOf.get(id)!]!]!
            : state.entries[story.entryOf.get(id)!]!,
        )
        expect({ seed, beat: beat.address, id, values: [...values].sort(), anyWord: anyWord === true }).toEqual({
          seed,
          beat: beat.address,
          id,
          values: [...new Set(found.filter(named))].sort(),
          anyWord: found.some((value) => !named(value)),
        })
        compared += 1
      }
      for (const ending of story.endings) {
        const index = story.endingOf.get(ending.id)!
        const can = here.map(([key]) => futures(key).some((state) => story.beats[state.at]!.ending === index))
        expect({ seed, beat: beat.address, ending: ending.id, share: bearing.endings[ending.id] }).toEqual({
          seed,
          beat: beat.address,
          ending: ending.id,
          share: can.every(Boolean) ? 'all' : can.some(Boolean) ? 'some' : 'none',
        })
      }
    }
  }
  expect(compared).toBeGreaterThan(750)
})

/** Another wording for every plain text. */
function reworded(story: Story): Story {
  const text = (words: string) => (/[{}']/.test(words) ? words : `${words} Again.`)
  return {
    ...story,
    scenes: story.scenes.map((scene) => ({
      ...scene,
      title: `${scene.title}!`,
      beats: scene.beats.map((beat) => ({
        ...beat,
        notes: 'Reworded.',
        ...(beat.lines && {
          lines: beat.lines.map((line) => withPlainLines(line, (one) => ({ ...one, text: text(one.text) }))),
        }),
        ...(beat.choices && { choices: beat.choices.map((choice) => ({ ...choice, text: text(choice.text) })) }),
      })),
    })),
  }
}

test('an edit of wording is known to change no verdict, and an edit that changes one is never taken for such', () => {
  const random = seededRandom(5)
  for (const seed of seeds(80)) {
    const story = randomStory(seed, 'tiny')
    const other = reworded(story)
    expect(sameVerdicts(story, other)).toBe(true)
    const verdicts = (one: Story) => {
      const { findings, reached } = surveyed(linkStory(one)).result()
      return { findings: findings.map(({ kind, key }) => [kind, ...key]), reached }
    }
    expect(verdicts(other)).toEqual(verdicts(story))
    const scene = random.below(story.scenes.length)
    const cut = {
      ...story,
      scenes: story.scenes.map((one, at) => (at === scene ? { ...one, beats: one.beats.slice(1) } : one)),
    }
    if (JSON.stringify(verdicts(cut)) !== JSON.stringify(verdicts(story))) expect(sameVerdicts(story, cut)).toBe(false)
  }
})

test('why not: the gate that never holds, the value stepped over, the road that is missing, the variant that hides', () => {
  const read = readStory(readFileSync('samples/first-draft.story.json', 'utf8'))
  if (!read.ok) throw new Error('malformed')
  const survey = surveyed(linkStory(read.value))
  const causes = (address: string) => whyNot(survey, address).causes
  expect(causes('quay.morning.set_out')).toMatchObject([
    {
      kind: 'gate',
      remove: [1],
      parts: [
        { source: 'toll_paid', everHolds: true },
        {
          source: "lantern == 'lit'",
          everHolds: false,
          saw: [{ id: 'lantern', values: ['dark'] }],
          setAt: [{ address: 'mill.loft#line1', reached: false }],
        },
      ],
    },
  ])
  expect(causes('harvest')).toMatchObject([
    {
      kind: 'gate',
      address: 'quay.morning.stay',
      parts: [{ stepsOver: 0, saw: [{ id: 'tide', values: [1, 3, 5, 7] }] }],
    },
  ])
  expect(causes('mill.loft')).toEqual([{ kind: 'no-road' }])
  // further back: the ending's beat, the beat before it, and the gate that keeps the player out of that
  expect(causes('across')).toMatchObject([
    { kind: 'from-unreached', unreached: 'flats.edge' },
    { kind: 'gate', address: 'quay.morning.set_out' },
  ])
  expect(causes('quay.morning#line1.variant2')).toEqual([
    { kind: 'hidden', address: 'quay.morning#line1.variant2', by: 'quay.morning#line1.variant1' },
  ])
  expect(causes('sluice.refused')).toEqual([{ kind: 'nothing-does' }])
})

test('every unreached item of generated stories has a cause, and taking the named parts from a lone gate opens it', () => {
  let opened = 0
  for (const seed of seeds(150)) {
    const doc = randomStory(seed, 'tiny')
    const survey = surveyed(linkStory(doc))
    const { findings } = survey.result()
    for (const { kind, key } of findings) {
      if (kind !== 'unreached') continue
      const { causes } = whyNot(survey, key[0]!)
      expect({ seed, key, causes: causes.length }).not.toMatchObject({ causes: 0 })
      const [cause] = causes
      const [scene, beat, choice] = key[0]!.split('.')
      if (cause?.kind !== 'gate' || cause.address !== key[0] || choice === undefined || key[0].includes('#')) continue
      const kept = cause.parts.filter((_, at) => !cause.remove.includes(at)).map((part) => `(${part.source})`)
      const when = kept.length === 0 ? 'true' : kept.join(' && ')
      const mended = structuredClone(doc)
      const target = mended.scenes
        .find(({ id }) => id === scene)!
        .beats.find(({ id }) => id === beat)!
        .choices!.find(({ id }) => id === choice)!
      target.when = when
      const again = surveyed(linkStory(mended))
      // the gate now holds somewhere; the choice is offered unless something else closes it
      expect({ seed, key, holds: (again.search.events.outcomesOf(key[0]) & 2) === 2 }).toEqual({
        seed,
        key,
        holds: true,
      })
      opened += 1
    }
  }
  expect(opened).toBeGreaterThan(20)
})

test('while code for a beat with many choices is written others get their turn, and what is found is the same', () => {
  const story = linkStory(questsAroundHub(20))
  const { search } = new Survey(story, { explicit: Infinity, hot: 1 })
  const choices = story.beats[0]!.choices.length
  let pauses = 0
  while (search.codedBeats === 0 && search.expanded < 500) {
    const before = search.expanded
    search.advance(2)
    if (search.expanded === before) pauses += 1
  }
  expect(search.codedBeats).toBe(1)
  expect(pauses).toBeGreaterThan(choices / 40)
  search.advance(300)
  const without = new Survey(story, { explicit: Infinity, hot: Infinity }).search
  while (without.expanded < search.expanded) without.advance(1)
  expect([search.expanded, search.transitions]).toEqual([without.expanded, without.transitions])
})
