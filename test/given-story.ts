import type { Random } from '../src/core/base/random'
import { begin, decide, type Listener } from '../src/core/play/step'
import { openness } from '../src/core/play/choices'
import type { PlayState } from '../src/core/play/state'
import type { LinkedEntry, LinkedStory } from '../src/core/story/linked'
import type { Beat, Choice, EntryValue, RouteItem, Story } from '../src/core/story/types'

const CONDITIONS = [
  "wind == 'west'",
  "wind != 'west'",
  'tide',
  '!tide',
  'level >= 1',
  'level == 2 && tide',
  "quest.boat == 'out'",
  'lit',
]
const EFFECTS = ["quest.boat = 'out'", "quest.boat = 'home'", 'lit = true', 'lit = false']
const TEXTS = ['Nothing stirs.', 'The gauge reads {level}.', 'A wind from the {wind}.', 'On with it.']

/** A small story in which lines, gates, arrivals and ways on ask for what the game gives, before it begins or while it rests. */
export function givenStory(random: Random): Story {
  const when = (chance: number) => (random.chance(chance) ? { when: random.pick(CONDITIONS) } : {})
  const effects = (chance: number) => (random.chance(chance) ? { do: [random.pick(EFFECTS)] } : {})
  const given = () => (random.chance(0.8) ? { given: random.pick(['begin', 'rest'] as const) } : {})
  const beats = 2 + random.below(3)
  const anywhere = () => (random.chance(0.2) ? 'quay.end' : `quay.b${random.below(beats)}`)
  const beat = (at: number): Beat => ({
    id: `b${at}`,
    ...(random.chance(0.3) && at + 1 < beats
      ? { redirects: [{ when: random.pick(CONDITIONS), to: `quay.b${at + 1}` }] }
      : {}),
    ...(random.chance(0.4) ? { arrive: [{ ...when(0.8), do: [random.pick(EFFECTS)] }] } : {}),
    lines: Array.from({ length: 1 + random.below(2) }, () => ({
      text: random.pick(TEXTS),
      ...when(0.6),
      ...effects(0.3),
    })),
    choices: Array.from({ length: 1 + random.below(2) }, (_, own): Choice => ({
      id: `c${own}`,
      text: 'So',
      ...when(0.6),
      ...effects(0.4),
      to: anywhere(),
    })),
    ...(random.chance(0.4) ? { onward: [{ ...when(0.8), ...effects(0.4), to: anywhere() }] } : {}),
  })
  return {
    paperCompass: 1,
    title: 'What the game gives',
    language: 'en',
    start: 'quay.b0',
    ledger: [
      { id: 'wind', kind: 'switch', positions: ['calm', 'west'], ...given() },
      { id: 'tide', kind: 'flag', ...given() },
      { id: 'level', kind: 'counter', min: 0, max: 2, ...given() },
      { id: 'lit', kind: 'flag' },
    ],
    quests: [
      {
        id: 'boat',
        name: 'The boat',
        stages: [
          { id: 'out', name: 'Out' },
          { id: 'home', name: 'Home', outcome: 'success' },
        ],
        moves: [['unstarted', 'out']],
      },
    ],
    endings: [{ id: 'over', name: 'Over' }],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [...Array.from({ length: beats }, (_, at) => beat(at)), { id: 'end', ending: 'over' }],
      },
    ],
  }
}

/** A run between two rests, or from the beginning. */
export interface Run {
  /** Where it began; undefined before the story has. */
  readonly from: PlayState | undefined
  readonly item: RouteItem
}

/** Plays a story in every way there is, also in what the game gives; `hear` is told of each run before it is played. False where that is more than `max` states. */
export function everyWay(
  story: LinkedStory,
  listener: Listener,
  hear: (run: Run) => void = () => undefined,
  max = 3000,
): boolean {
  const known = new Map<string, PlayState>()
  const add = (state: PlayState) =>
    void known.set(JSON.stringify({ ...state, visits: state.visits.join(), taken: state.taken.join() }), state)
  for (const given of ways(story, (entry) => entry.given !== undefined)) {
    hear({ from: undefined, item: { given } })
    add(begin(story, listener, given))
  }
  for (const from of known.values()) {
    if (known.size > max) return false
    const play = (item: RouteItem) => {
      hear({ from, item })
      const next = decide(story, from, item, listener)
      if (!next.ok) throw new Error(next.error)
      add(next.value)
    }
    if (from.status === 'choice' || from.status === 'stuck')
      for (const given of ways(story, (entry) => entry.given === 'rest'))
        if (Object.keys(given).length > 0) play({ given })
    if (from.status !== 'choice') continue
    for (const choice of story.beats[from.at]!.choices)
      if (openness(story, from, choice).open) play({ choice: choice.address })
  }
  return true
}

/** All values together that some entries can be given. */
function ways(story: LinkedStory, isMeant: (entry: LinkedEntry) => boolean): Record<string, EntryValue>[] {
  return story.entries
    .filter(isMeant)
    .reduce<Record<string, EntryValue>[]>(
      (all, entry) => all.flatMap((one) => valuesOf(entry).map((value) => ({ ...one, [entry.id]: value }))),
      [{}],
    )
}

function valuesOf({ kind, positions, min, max }: LinkedEntry): readonly EntryValue[] {
  if (kind === 'flag') return [false, true]
  if (kind === 'switch') return positions
  if (kind === 'text') throw new Error('words are given in too many ways')
  return Array.from({ length: max - min + 1 }, (_, at) => min + at)
}
