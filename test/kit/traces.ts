import type { MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import { pickTurn } from '../../packages/runtime/src/pick'
import { seededRandom, type Random } from '../../src/core/base/random'
import { writeBundle } from '../../src/core/formats/bundle/write'
import type { Bundle } from '../../src/core/formats/bundle/format'
import { openness } from '../../src/core/play/choices'
import { givenTrouble } from '../../src/core/play/given'
import { loadSave, saveOf } from '../../src/core/play/save'
import type { PlayState } from '../../src/core/play/state'
import { begin, decide, type Listener } from '../../src/core/play/step'
import { formatText, nameOf } from '../../src/core/play/text'
import { soundTranslations } from '../../src/core/story/languages'
import { linkStory } from '../../src/core/story/link'
import type { LinkedChoice, LinkedCue, LinkedEntry, LinkedStory, LinkedText } from '../../src/core/story/linked'
import type { EntryValue, RouteItem, Story } from '../../src/core/story/types'
import { choicesOf } from '../../src/core/story/linked-parts'

/** What is done at a step of a trace. */
export type Act =
  | { readonly begin: Record<string, EntryValue> }
  | { readonly choose: string }
  | { readonly say: string }
  | { readonly give: Record<string, EntryValue> }
  /** Saves, and goes on from that. */
  | { readonly reload: true }

/** What a player of the trace must find after it; of `ledger` and `stages` what is other than a step before. */
export interface Found {
  readonly refused?: true
  readonly lines?: readonly object[]
  readonly cues?: readonly object[]
  readonly status?: string
  readonly beat?: string
  readonly choices?: readonly object[]
  readonly prompt?: object
  readonly ending?: object
  readonly ledger?: Record<string, EntryValue>
  readonly stages?: Record<string, string>
  readonly journal?: readonly object[]
}

export interface Trace {
  readonly language?: string
  readonly seed?: number
  readonly steps: readonly { readonly do: Act; readonly expect: Found }[]
  /** At the end, where it rests. */
  readonly save?: object
}

export interface Traces {
  readonly paperCompassTraces: 1
  readonly bundle: Bundle
  readonly traces: readonly Trace[]
}

/** Plays the document itself, not the bundle that is made of it, so that the one is held against the other. */
class Player {
  readonly linked: LinkedStory
  private readonly sound: ReadonlyMap<string, readonly MessageFormatElement[]>
  private state: PlayState | undefined
  private ledger: Record<string, EntryValue> = {}
  private stages: Record<string, string> = {}

  constructor(
    linked: LinkedStory,
    private readonly language: string | undefined,
    private readonly seed: number | undefined,
  ) {
    this.linked = linked
    this.sound = language === undefined ? new Map() : soundTranslations(linked, language)
  }

  get resting(): PlayState | undefined {
    return this.state
  }

  act(act: Act): Found {
    const lines: object[] = []
    const cues: object[] = []
    const cue = ({ cue: id, with: passed }: LinkedCue) =>
      cues.push({ id, ...(passed === undefined ? {} : { with: passed }) })
    let at = ''
    const listener: Listener = {
      beat: ({ address }) => void (at = address),
      line: ({ id, text, speaker, manner, cues: own }, now) => {
        const key = id === undefined ? undefined : `line/${at}/${id}`
        lines.push({
          text: this.text(now, text, key),
          ...(speaker === undefined ? {} : { speaker, name: this.person(now, speaker) }),
          manner,
          ...(key === undefined ? {} : { key }),
        })
        own.forEach(cue)
      },
      ...(this.seed === undefined
        ? {}
        : { pick: (group, times) => pickTurn(this.seed!, group.index, times, group.turns.length) }),
    }
    const next = this.next(act, listener)
    if (next === undefined) return { refused: true }
    const taken = 'choose' in act ? this.linked.choices[this.linked.choiceOf.get(act.choose)!]!.cues : []
    const chosen = cues.splice(0)
    taken.forEach(cue)
    cues.push(...chosen)
    this.state = next
    return this.found(next, lines, cues)
  }

  private next(act: Act, listener: Listener): PlayState | undefined {
    const { linked, state } = this
    if ('begin' in act)
      return givenTrouble(linked, act.begin, 'begin') === undefined ? begin(linked, listener, act.begin) : undefined
    if (state === undefined) throw new Error('a trace begins')
    if ('reload' in act) {
      const save = saveOf(linked, state)
      return save && loadSave(linked, save, listener).state
    }
    const item: RouteItem =
      'choose' in act
        ? { choice: act.choose }
        : 'say' in act
          ? { at: linked.beats[state.at]?.address ?? '', word: act.say }
          : { given: act.give }
    const next = decide(linked, state, item, listener)
    return next.ok ? next.value : undefined
  }

  private found(state: PlayState, lines: object[], cues: object[]): Found {
    const { linked } = this
    const beat = linked.beats[state.at]
    const ledger = Object.fromEntries(
      linked.entries
        .filter(({ scene }) => scene === -1 || scene === beat?.scene)
        .map(({ id, index }) => [id, state.entries[index]!]),
    )
    const stages = Object.fromEntries(
      linked.quests.map(({ id, index, stages: all }) => [id, all[state.stages[index]!]!]),
    )
    const found: Found = {
      lines,
      ...(cues.length === 0 ? {} : { cues }),
      status: state.status,
      ...(beat === undefined ? {} : { beat: beat.address }),
      ...(state.status === 'choice' || state.status === 'stuck'
        ? { choices: beat!.choices.flatMap((choice) => this.choice(state, choice)) }
        : {}),
      ...(state.status === 'word' ? { prompt: this.prompt(state) } : {}),
      ...(state.status === 'ended' ? { ending: this.ending(state) } : {}),
      ledger: changed(ledger, this.ledger),
      stages: changed(stages, this.stages),
      journal: linked.quests.flatMap(({ id, name, names, stages: all, index }) => {
        const stage = all[state.stages[index]!]!
        if (stage === 'unstarted') return []
        const key = `${id}.${stage}`
        const text = linked.journals.get(key)
        return [
          {
            quest: id,
            name: this.name(name, `quest/${id}`),
            stage,
            stageName: this.name(names[state.stages[index]!]!, `stage/${key}`),
            ...(text === undefined ? {} : { text: this.text(state, text, `journal/${key}`) }),
          },
        ]
      }),
    }
    this.ledger = ledger
    this.stages = stages
    return found
  }

  private choice(state: PlayState, choice: LinkedChoice): object[] {
    const { open } = openness(this.linked, state, choice)
    if (!open && !choice.shownClosed) return []
    const text = this.text(state, choice.text, `choice/${choice.address}`)
    return [
      { id: choice.address, text, ...(choice.who === undefined ? {} : { name: this.person(state, choice.who) }), open },
    ]
  }

  private prompt(state: PlayState): object {
    const beat = this.linked.beats[state.at]!
    const ask = beat.ask!
    return {
      text: this.text(state, ask.prompt, `prompt/${beat.address}`),
      suggest: ask.suggest.map((word, at) => this.name(word, `suggest/${beat.address}/${at + 1}`)),
      ...(ask.default === undefined ? {} : { default: ask.default }),
    }
  }

  private ending(state: PlayState): object {
    const { id, name } = this.linked.endings[this.linked.beats[state.at]!.ending]!
    return { id, name: this.name(name, `ending/${id}`) }
  }

  private text(state: PlayState, text: LinkedText, key: string | undefined): string {
    const parts = key === undefined ? undefined : this.sound.get(key)
    const shown = parts === undefined ? text : { source: '', isPlain: false, parsed: parts, language: this.language! }
    return formatText(this.translatedPeople(), state, shown)
  }

  private name(name: string, key: string): string {
    const parts = this.sound.get(key)
    return parts === undefined ? name : parts.map((part) => ('value' in part ? String(part.value) : '')).join('')
  }

  private person(state: PlayState, id: string): string {
    return nameOf(this.translatedPeople(), state, id)
  }

  private people: LinkedStory | undefined

  /** The story with its cast as the language calls them. */
  private translatedPeople(): LinkedStory {
    const people = new Map(
      [...this.linked.people].map(([id, person]) => [id, { ...person, name: this.name(person.name, `person/${id}`) }]),
    )
    return (this.people ??= { ...this.linked, people })
  }
}

function changed<T>(now: Record<string, T>, before: Record<string, T>): Record<string, T> {
  return Object.fromEntries(Object.entries(now).filter(([key, value]) => before[key] !== value))
}

/** Plays acts from the beginning, and writes down what was found. */
export function traceOf(linked: LinkedStory, acts: Iterable<Act>, how: Pick<Trace, 'language' | 'seed'> = {}): Trace {
  const player = new Player(linked, how.language, how.seed)
  const steps = [...acts].map((act) => ({ do: act, expect: player.act(act) }))
  return finished(player, steps, how)
}

function finished(player: Player, steps: Trace['steps'], how: Pick<Trace, 'language' | 'seed'>): Trace {
  const save = player.resting && saveOf(player.linked, player.resting)
  return {
    ...how,
    steps,
    ...(save === undefined ? {} : { save: how.seed === undefined ? save : { ...save, seed: how.seed } }),
  }
}

/** Somebody who tries this and that: what is open mostly, and now and then what is not. */
export function wander(
  linked: LinkedStory,
  seed: number,
  length: number,
  how: Pick<Trace, 'language' | 'seed'>,
): Trace {
  const random = seededRandom(seed)
  const player = new Player(linked, how.language, how.seed)
  const steps: { do: Act; expect: Found }[] = []
  const act = (one: Act) => steps.push({ do: one, expect: player.act(one) })
  act({ begin: random.chance(0.5) ? {} : someGiven(linked, random, 'begin') })
  if (player.resting === undefined) act({ begin: {} })
  for (let step = 0; step < length; step += 1) {
    const state = player.resting
    if (state === undefined || state.status === 'nowhere' || state.status === 'endless') break
    if (state.status === 'ended' && random.chance(0.7)) break
    act(next(linked, state, random))
  }
  return finished(player, steps, how)
}

const WORDS = ['Wren', ' Moss ', '', '\u00a0 Plover\u2003\n', 'Ödil 🕯️', "o'Hare {x}"]

function next(linked: LinkedStory, state: PlayState, random: Random): Act {
  const roll = random.fraction()
  if (roll < 0.06) return { reload: true }
  if (roll < 0.16) return { give: someGiven(linked, random, 'rest') }
  if (roll < 0.2 && linked.choiceOf.size > 0) return { choose: random.pick(choicesOf(linked)).address }
  if (state.status === 'word') return { say: random.pick(WORDS) }
  const open = (linked.beats[state.at]?.choices ?? []).filter((choice) => openness(linked, state, choice).open)
  return open.length === 0 ? { reload: true } : { choose: random.pick(open).address }
}

function someGiven(linked: LinkedStory, random: Random, when: 'begin' | 'rest'): Record<string, EntryValue> {
  const all = linked.entries.filter(({ given }) => given !== undefined && (when === 'begin' || given === 'rest'))
  if (random.chance(0.05) && linked.entries.length > 0) return { [random.pick(linked.entries).id]: 'nonsense ' }
  return Object.fromEntries(all.filter(() => random.chance(0.6)).map((entry) => [entry.id, valueOf(entry, random)]))
}

function valueOf({ kind, positions, min, max }: LinkedEntry, random: Random): EntryValue {
  switch (kind) {
    case 'flag':
      return random.chance(0.5)
    case 'switch':
      return positions.length === 0 ? '' : random.pick(positions)
    case 'counter':
    case 'item':
      return min + random.below(Math.min(max - min + 1, 1000))
    case 'text':
      return random.pick(['', 'Wren', 'Moss'])
  }
}

/** What a story is tried with: wanderers in all its languages, with and without a seed. */
export function tracesOf(
  doc: Story,
  seed: number,
  { runs, length }: { runs: number; length: number },
  more: (linked: LinkedStory) => readonly Trace[] = () => [],
): Traces {
  const linked = linkStory(doc)
  const languages = [undefined, ...Object.keys(doc.languages ?? {}).filter((tag) => tag !== doc.language)]
  const traces = Array.from({ length: runs }, (_, run) => {
    const language = languages[run % languages.length]
    return wander(linked, seed * 1000 + run, length, {
      ...(language === undefined ? {} : { language }),
      ...(run % 3 === 1 ? { seed: seed * 7 + run } : {}),
    })
  })
  return { paperCompassTraces: 1, bundle: writeBundle(linked), traces: [...more(linked), ...traces] }
}
