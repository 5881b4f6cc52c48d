import { ok, type Result } from '../../../src/core/base/result'
import { givenTrouble } from '../../../src/core/play/given'
import { readSave } from '../../../src/core/play/read-save'
import { loadSave, saveOf } from '../../../src/core/play/save'
import { freshState, type PlayState } from '../../../src/core/play/state'
import { begin, decide, type Listener } from '../../../src/core/play/step'
import { formatText, nameOf } from '../../../src/core/play/text'
import { bagOf, journalOf, ledgerOf, stagesOf, visitsOf } from '../../../src/core/play/told'
import type { LinkedCue, LinkedStory } from '../../../src/core/story/linked'
import { linesOf } from '../../../src/core/story/linked-parts'
import { choicesAt, promptAt } from './asked'
import { RuntimeError } from './error'
import { pickTurn } from './pick'
import type { Playable } from './playable'
import type {
  BeginOptions,
  Carried,
  Choice,
  Cue,
  Events,
  JournalPage,
  Line,
  Loaded,
  Prompt,
  RouteItem,
  Save,
  Status,
  Value,
} from './types'

type Told = { [Name in keyof Events]: { readonly name: Name; readonly of: Events[Name] } }[keyof Events]

/** One playing of a story. It always stands where the story rests; what the player is asked, and what was said, is read from it. */
export class Playthrough {
  private playable: Playable
  private tongue: string
  private state: PlayState
  private shown: readonly Line[] = []
  private issued: readonly Cue[] = []
  private seed: number | undefined
  private played: RouteItem[] | undefined
  /** Where the lines that are shown stand. */
  private readonly addresses = new WeakMap<Line, string>()
  private readonly hearers = new Map<string, Set<(what: never) => void>>()

  /** @internal */
  constructor(playable: Playable, options: BeginOptions) {
    const { given, language, seed, save, keepRoute = false } = options
    this.playable = playable
    this.tongue = language ?? playable.languages[0]!
    this.seed = seed
    this.state = freshState(this.story)
    if (save !== undefined) {
      this.load(save)
      return
    }
    const trouble = given && givenTrouble(this.story, given, 'begin')
    if (trouble !== undefined) throw new RuntimeError('given', trouble)
    this.played = keepRoute ? (given === undefined ? [] : [{ given }]) : undefined
    this.go((listener) => ok(begin(this.story, listener, given)))
  }

  private get story(): LinkedStory {
    return this.playable.linked(this.tongue)
  }

  get title(): string {
    return this.playable.title
  }

  get status(): Status {
    return this.state.status
  }

  /** The beat where the story rests. */
  get beat(): string | undefined {
    return this.story.beats[this.state.at]?.address
  }

  get place(): string | undefined {
    return this.story.beats[this.state.place]?.address
  }

  /** What was said since the last decision. */
  get lines(): readonly Line[] {
    return this.shown
  }

  /** What the game was told to do since the last decision, in order: those of the choice, then those of lines. */
  get cues(): readonly Cue[] {
    return this.issued
  }

  /** The choices that are open, and those that are shown closed. */
  get choices(): readonly Choice[] {
    return choicesAt(this.story, this.state)
  }

  /** What word the player is asked for. */
  get prompt(): Prompt | undefined {
    return promptAt(this.story, this.state)
  }

  get ending(): { readonly id: string; readonly name: string } | undefined {
    return this.state.status === 'ended' ? this.story.endings[this.story.beats[this.state.at]!.ending] : undefined
  }

  /** All that the story remembers now, of scenes' own entries those of the scene that it is in. */
  get ledger(): Readonly<Record<string, Value>> {
    return ledgerOf(this.story, this.state)
  }

  get stages(): Readonly<Record<string, string>> {
    return stagesOf(this.story, this.state)
  }

  /** The quests that have begun. */
  get journal(): readonly JournalPage[] {
    return journalOf(this.story, this.state)
  }

  get bag(): readonly Carried[] {
    return bagOf(this.story, this.state)
  }

  /** How often beats were visited, those that were. */
  get visits(): Readonly<Record<string, number>> {
    return visitsOf(this.story, this.state)
  }

  /** What was played since the beginning, if that is kept. */
  get route(): readonly RouteItem[] | undefined {
    return this.played
  }

  get language(): string {
    return this.tongue
  }

  /** What was said stays as it was; what is asked is in the new language at once. */
  set language(language: string) {
    this.playable.linked(language)
    this.tongue = language
  }

  /**
   * Takes a choice that is open.
   * @throws RuntimeError, and nothing has changed
   */
  choose(id: string): this {
    return this.decide('choice', { choice: id })
  }

  /**
   * Answers the word that is asked for.
   * @throws RuntimeError where none is, or the word is empty and there is no default
   */
  say(word: string): this {
    if (typeof word !== 'string') throw new RuntimeError('word', 'a word is a text', undefined, 'a text')
    return this.decide('word', { at: this.beat ?? '', word })
  }

  /**
   * Sets values that are the game's. The choices are come to again, and the story may go on by itself.
   * @throws RuntimeError for an entry or value that can't be given
   */
  give(values: Readonly<Record<string, Value>>): this {
    return this.decide('given', { given: values })
  }

  /** Where the story rests, for `load`, also into another version of the story. */
  save(): Save {
    const save = saveOf(this.story, this.state)
    if (save === undefined) throw new RuntimeError('save', 'the story does not rest, so it can not be saved')
    return this.seed === undefined ? save : { ...save, seed: this.seed }
  }

  /**
   * Goes on from a save, of this version of the story or another; what is not there any more is left out.
   * @throws RuntimeError where it is no save
   */
  load(source: Save | string): Loaded {
    const save = readSave(source)
    if (!save.ok) throw new RuntimeError('save', save.error.message, save.error.where, save.error.expected)
    return this.takeUp(save.value)
  }

  /** `said`: what is on the screen, and stays there where its beat does. */
  private takeUp(save: Save, said: readonly Line[] = []): Loaded {
    const { story } = this
    let moved = false
    this.seed = save.seed ?? this.seed
    this.played = undefined
    this.go(
      (listener) => {
        const loaded = loadSave(story, save, listener)
        moved = loaded.moved
        return ok(loaded.state)
      },
      undefined,
      () => (moved ? [] : said),
    )
    const lost = (of: Readonly<Record<string, unknown>>, known: ReadonlyMap<string, number>) =>
      Object.keys(of).filter((name) => !known.has(name))
    return {
      moved,
      lost: [
        ...lost(save.ledger, story.entryOf),
        ...lost(save.stages, story.questOf),
        ...lost(save.visits, story.beatOf),
        ...save.taken.filter((choice) => !story.choiceOf.has(choice)),
      ],
    }
  }

  /**
   * Goes on in another version of the story, its state carried over. What was said last is said as that version has it:
   * `lines` are new, and `revised` is told.
   */
  update(playable: Playable): Loaded {
    const save = saveOf(this.story, this.state)
    const said = this.shown
    const played = this.played
    this.playable = playable
    if (!playable.languages.includes(this.tongue)) this.tongue = playable.languages[0]!
    if (save !== undefined) {
      const loaded = this.takeUp(save, said)
      this.played = played
      return loaded
    }
    this.go((listener) => ok(begin(this.story, listener)))
    return { moved: true, lost: [] }
  }

  /** Hears of something; what is given back ends that. */
  on<Name extends keyof Events>(name: Name, hear: (what: Events[Name]) => void): () => void {
    const hearers = this.hearers.get(name) ?? new Set()
    this.hearers.set(name, hearers)
    hearers.add(hear)
    return () => hearers.delete(hear)
  }

  /** A line as the story has it now; the same where it has it no more, or says the same. */
  private revised(line: Line): Line {
    const { story, state } = this
    const beat = story.beats[story.beatOf.get(line.beat) ?? -1]
    const address = this.addresses.get(line)
    if (beat === undefined) return line
    const all = linesOf(beat)
    const found =
      all.find(({ id }) => id !== undefined && `line/${line.beat}/${id}` === line.key) ??
      all.find((one) => line.key === undefined && one.address === address)
    if (found === undefined) return line
    const { id, speaker, manner } = found
    const now: Line = {
      text: formatText(story, state, found.text),
      ...(speaker === undefined ? {} : { speaker, name: nameOf(story, state, speaker) }),
      manner,
      ...(id === undefined ? {} : { key: `line/${line.beat}/${id}` }),
      beat: line.beat,
      cues: line.cues,
    }
    this.addresses.set(now, found.address)
    const isSame = now.text === line.text && now.name === line.name && now.manner === line.manner
    return isSame ? line : now
  }

  private decide(of: string, item: RouteItem): this {
    const { story, state } = this
    const problem = this.go((listener) => decide(story, state, item, listener), item)
    if (problem !== undefined) throw new RuntimeError(of, problem)
    return this
  }

  /** Plays up to the next rest, and tells of it when the state is the new one. */
  private go(
    play: (listener: Listener) => Result<PlayState>,
    item?: RouteItem,
    staying: () => readonly Line[] = () => [],
  ): string | undefined {
    const { story, seed } = this
    const told: Told[] = []
    const cue = ({ cue: id, with: passed }: LinkedCue): Cue => ({
      id,
      name: story.cues.get(id) ?? id,
      ...(passed === undefined ? {} : { with: passed }),
    })
    const choice =
      item !== undefined && 'choice' in item ? story.choices[story.choiceOf.get(item.choice) ?? -1] : undefined
    for (const one of choice?.cues ?? []) told.push({ name: 'cue', of: cue(one) })
    told.push(...this.setByHand(item))
    let at = ''
    const next = play({
      beat: (beat) => {
        at = beat.address
        told.push({ name: 'beat', of: at })
      },
      line: (line, now) => {
        const cues = line.cues.map(cue)
        const { id, speaker, manner } = line
        const of: Line = {
          text: formatText(story, now, line.text),
          ...(speaker === undefined ? {} : { speaker, name: nameOf(story, now, speaker) }),
          manner,
          ...(id === undefined ? {} : { key: `line/${at}/${id}` }),
          beat: at,
          cues,
        }
        this.addresses.set(of, line.address)
        told.push({ name: 'line', of })
        for (const one of cues) told.push({ name: 'cue', of: one })
      },
      change: (_owner, _effect, { of, index, from, to }) => {
        if (from === to) return
        if (of === 'entry') told.push({ name: 'entry', of: { id: story.entries[index]!.id, from, to } })
        else told.push({ name: 'stage', of: { quest: story.quests[index]!.id, from: String(from), to: String(to) } })
      },
      ...(seed === undefined ? {} : { pick: (group, times) => pickTurn(seed, group.index, times, group.turns.length) }),
    })
    if (!next.ok) return next.error
    this.state = next.value
    if (item !== undefined) {
      this.played?.push(item)
      this.tell('did', item)
    }
    const said = staying()
    const again = said.map((line) => this.revised(line))
    this.shown = [...again, ...told.flatMap(({ name, of }) => (name === 'line' ? [of] : []))]
    this.issued = told.flatMap(({ name, of }) => (name === 'cue' ? [of] : []))
    if (again.some((line, at) => line !== said[at])) this.tell('revised', this.shown)
    for (const { name, of } of told) this.tell(name, of)
    this.tell('rest', this.status)
    return undefined
  }

  /** A typed word, and what the game sets, change entries though no effect does. */
  private setByHand(item: RouteItem | undefined): Told[] {
    const { story, state } = this
    const values = item === undefined || 'choice' in item ? {} : 'given' in item ? item.given : this.wordKept(item.word)
    return Object.entries(values).flatMap(([id, to]): Told[] => {
      const from = state.entries[story.entryOf.get(id) ?? -1]
      return from === undefined || from === to ? [] : [{ name: 'entry', of: { id, from, to } }]
    })
  }

  private wordKept(word: string): Record<string, Value> {
    const ask = this.story.beats[this.state.at]?.ask
    const into = this.story.entries[ask?.into ?? -1]
    return into === undefined ? {} : { [into.id]: word.trim() || (ask?.default ?? '') }
  }

  private tell(name: string, what: unknown): void {
    for (const hear of this.hearers.get(name) ?? []) (hear as (of: unknown) => void)(what)
  }
}
