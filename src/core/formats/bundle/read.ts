import type { BeatAddress, ChoiceAddress } from '../../base/ids'
import { isDeeperThan } from '../../base/depth'
import { BUNDLE_DEPTH, BUNDLE_VERSION } from '../../base/limits'
import { fail, ok, type Result } from '../../base/result'
import type { Scope } from '../../expression/check'
import type {
  Condition,
  LinkedArrive,
  LinkedBeat,
  LinkedChoice,
  LinkedCue,
  LinkedEffect,
  LinkedGroup,
  LinkedLine,
  LinkedPerson,
  LinkedRule,
  LinkedStory,
  LinkedText,
  LinkedTurns,
  Road,
} from '../../story/linked'
import { freshMemo, turnsIn } from '../../story/linked-parts'
import { scopeOf, type Declared } from '../../story/scope'
import type { Scene } from '../../story/types'
import { At, ShapeTrouble } from '../../base/at'
import { NO_NAMES, questNames, readEntry, readQuest } from './read-declared'
import { readCondition, readEffect, type Names } from './read-expr'
import { Texts } from './read-text'

/** A bundle in one of its languages, as it is played. */
export interface ReadBundle {
  readonly story: LinkedStory
  /** All that it has, the story's own first. */
  readonly languages: readonly string[]
}

/**
 * Takes up a bundle that was parsed as JSON, as `language` shows it (the story's own where it has no such). What is not
 * as the format wants it is refused whole, with the place and what was expected there.
 */
export function readBundle(json: unknown, language?: string): Result<ReadBundle, ShapeTrouble> {
  try {
    if (isDeeperThan(json, BUNDLE_DEPTH)) throw new ShapeTrouble('the bundle', 'less nesting: no bundle is so deep')
    const at = new At(json, '')
    const version = at.key('paperCompassBundle')
    if (version.value !== BUNDLE_VERSION) version.fail(`${BUNDLE_VERSION}: another format than this runtime reads`)
    return ok(new Reader(at, language).read())
  } catch (error) {
    if (error instanceof ShapeTrouble) return fail(error)
    throw error
  }
}

const NONE: readonly never[] = []

class Reader {
  private readonly names: Names
  private readonly texts: Texts
  private readonly sceneCount: number
  private readonly endings: LinkedStory['endings']
  private readonly cues: readonly { readonly id: string; readonly name: string }[]
  /** What may be named in each scene; the last: outside of all. */
  private readonly scopes: readonly Scope[]
  private readonly beatOf: ReadonlyMap<string, number>
  private readonly choiceOf: ReadonlyMap<string, number>
  private readonly choicesBefore: readonly number[]
  private turnGroups = 0

  constructor(
    private readonly at: At,
    language: string | undefined,
  ) {
    const own = at.key('language').string()
    const scenes = at.key('scenes').list((scene) => scene.string())
    this.sceneCount = scenes.length
    const entries = at.key('entries').list((entry, index) => readEntry(entry, index, scenes.length))
    const beats = at.key('beats').list((beat) => beat.key('id').string())
    const choicesBefore: number[] = []
    const choices: string[] = []
    for (const beat of at.key('beats').items()) {
      choicesBefore.push(choices.length)
      choices.push(...beat.listOf('choices', (choice) => choice.key('id').string()))
    }
    this.choicesBefore = choicesBefore
    const people = at.key('people').list((person) => person.key('id').string())
    const names = { entries, quests: [], people, beats, choices }
    this.texts = new Texts(at, language ?? own, own, { ...names, quests: questNames(at.key('quests')) })
    const quests = at.key('quests').list((quest, index) => readQuest(quest, index, this.texts))
    this.names = { ...names, quests }
    this.endings = at.key('endings').list((ending) => ({
      id: ending.key('id').string(),
      name: this.texts.name(ending.key('name'), NO_NAMES),
    }))
    this.cues = at.key('cues').list((cue) => ({ id: cue.key('id').string(), name: cue.key('name').string() }))
    this.beatOf = indexes(beats)
    this.choiceOf = indexes(choices)
    const declared = {
      entries,
      quests,
      scenes: scenes.map((id) => ({ id })),
      entryOf: indexes(entries.map(({ id }) => id)),
      questOf: indexes(quests.map(({ id }) => id)),
      endingOf: indexes(this.endings.map(({ id }) => id)),
      people: indexes(people),
      beatOf: this.beatOf,
      choiceOf: this.choiceOf,
      turnsOf: new Map<string, number>(),
    }
    this.scopes = [...scenes.map((_, scene) => scopeOf(declared, scene)), scopeOf(declared, -1)]
    this.declared = declared
  }

  private readonly declared: Declared

  read(): ReadBundle {
    const { at, declared } = this
    const beats = at.key('beats').list((beat, index) => this.beat(beat, index))
    const turnGroups = beats.flatMap(turnsIn)
    const everywhere = this.scopes.at(-1)!
    const people = new Map(
      at.key('people').list((person): [string, LinkedPerson] => {
        const id = person.key('id').string()
        const called = person.listOf('called', (one) => ({
          when: this.condition(one.key('when'), everywhere),
          name: this.texts.name(one.key('name'), everywhere),
        }))
        return [id, { id, name: this.texts.name(person.key('name'), everywhere), called }]
      }),
    )
    const journals = new Map<string, LinkedText>()
    for (const quest of at.key('quests').items())
      for (const stage of quest.key('stages').items()) {
        const text = stage.maybe('journal', (one) => this.texts.text(one, everywhere))
        if (text !== undefined) journals.set(`${quest.key('id').string()}.${stage.key('id').string()}`, text)
      }
    const start = at.key('start')
    const title = at.key('title').string()
    const language = at.key('language').string()
    const story: LinkedStory = {
      doc: { paperCompass: 1, title, language, start: '', scenes: [] },
      entries: declared.entries,
      quests: declared.quests,
      scenes: declared.scenes.map(({ id }): Scene => ({ id, title: id, beats: [] })),
      endings: this.endings,
      beats,
      inOrder: beats,
      choices: beats.flatMap(({ choices }) => choices),
      turnGroups,
      promises: NONE,
      routes: NONE,
      people,
      cues: new Map(this.cues.map(({ id, name }) => [id, name])),
      entryOf: declared.entryOf,
      questOf: declared.questOf,
      endingOf: declared.endingOf,
      beatOf: this.beatOf,
      choiceOf: this.choiceOf,
      turnsOf: indexes(turnGroups.map(({ address }) => address)),
      start: start.value === -1 ? -1 : start.index(beats.length, 'a beat'),
      problems: NONE,
      promiseUses: NONE,
      journals,
      journalUses: NONE,
      calledUses: NONE,
    }
    return { story, languages: Object.keys(at.key('texts').object()) }
  }

  private beat(at: At, index: number): LinkedBeat {
    const address = at.key('id').string() as BeatAddress
    const scene = at.key('scene').index(this.sceneCount, 'a scene')
    const scope = this.scopes[scene]!
    return {
      index,
      address,
      scene,
      place: at.maybe('place', (place) => place.boolean()) ?? false,
      redirects: at.listOf('redirects', (rule) => this.rule(rule, scope)),
      arrive: at.listOf('arrive', (rule): LinkedArrive => ({ address, ...this.owner(rule, scope) })),
      lines: at.listOf('lines', (line, number) => this.line(line, `${address}#line${number + 1}`, scope)),
      choices: at.listOf('choices', (choice, number) => this.choice(choice, index, number, scope)),
      ask: at.maybe('ask', (ask) => ({
        into: ask.key('into').value === -1 ? -1 : this.textEntry(ask.key('into')),
        prompt: this.texts.text(ask.key('prompt'), scope),
        suggest: ask.listOf('suggest', (word) => this.texts.name(word, scope)),
        default: ask.maybe('default', (word) => word.string()),
      })),
      ending: at.maybe('ending', (ending) => ending.index(this.endings.length, 'an ending')) ?? -1,
      onward: at.listOf('onward', (rule) => this.rule(rule, scope)),
      memo: freshMemo(),
    }
  }

  private textEntry(at: At): number {
    const index = at.index(this.names.entries.length, 'an entry')
    return this.names.entries[index]!.kind === 'text' ? index : at.fail('the number of a text entry')
  }

  private line(at: At, address: string, scope: Scope): LinkedLine | LinkedGroup | LinkedTurns {
    if ('firstOf' in at.object())
      return {
        kind: 'group',
        address,
        variants: at.key('firstOf').list((variant, number) => {
          const own = `${address}.variant${number + 1}`
          return {
            address: own,
            when: variant.maybe('when', (when) => this.condition(when, scope)),
            lines: variant.listOf('lines', (line, at) => this.plainLine(line, `${own}.line${at + 1}`, scope)),
            turns: variant.maybe('turns', (turns) => this.turns(turns, scope)),
          }
        }),
      }
    if ('inTurn' in at.object())
      return { ...this.turns(at, scope), when: at.maybe('when', (when) => this.condition(when, scope)) }
    return this.plainLine(at, address, scope)
  }

  private turns(at: At, scope: Scope): LinkedTurns {
    const address = at.key('group').string()
    const turns = at.key('inTurn').list((turn, number) => {
      const own = `${address}.turn${number + 1}`
      return { address: own, lines: turn.list((line, at) => this.plainLine(line, `${own}.line${at + 1}`, scope)) }
    })
    if (turns.length === 0) at.key('inTurn').fail('a turn')
    const order = at.key('order').oneOf(['again', 'last', 'once', 'any'])
    return { kind: 'turns', index: this.turnGroups++, address, when: undefined, order, turns }
  }

  private plainLine(at: At, address: string, scope: Scope): LinkedLine {
    return {
      kind: 'line',
      id: at.maybe('id', (id) => id.string()),
      address,
      ...this.owner(at, scope),
      text: this.texts.text(at.key('text'), scope),
      cues: this.cueUses(at),
      speaker: at.maybe('speaker', (speaker) => speaker.string()),
      manner: at.key('manner').oneOf(['speech', 'action', 'thought', 'narration']),
    }
  }

  private choice(at: At, beat: number, number: number, scope: Scope): LinkedChoice {
    const to = at.key('to')
    return {
      index: this.choicesBefore[beat]! + number,
      address: at.key('id').string() as ChoiceAddress,
      beat,
      text: this.texts.text(at.key('text'), scope),
      who: at.maybe('who', (who) => who.string()),
      ...this.owner(at, scope),
      once: at.maybe('once', (once) => once.boolean()) ?? false,
      shownClosed: at.maybe('shown', (shown) => shown.boolean()) ?? false,
      cues: this.cueUses(at),
      to: Array.isArray(to.value)
        ? { kind: 'rules', rules: to.list((rule) => this.rule(rule, scope)) }
        : { kind: 'road', road: this.road(to) },
    }
  }

  private cueUses(at: At): LinkedCue[] {
    return at.listOf('cues', (use: At) => {
      const [cue, passed] = use.items()
      if (cue === undefined) use.fail('the number of a cue')
      return { cue: this.cues[cue.index(this.cues.length, 'a cue')]!.id, with: passed?.string() }
    })
  }

  private rule(at: At, scope: Scope): LinkedRule {
    return { address: '', ...this.owner(at, scope), to: this.road(at.key('to')) }
  }

  private road(at: At): Road {
    if (at.value === 'return') return { kind: 'return' }
    if (at.value === null) return { kind: 'nowhere' }
    return { kind: 'beat', beat: at.index(this.names.beats.length, 'a beat') }
  }

  /** A condition and effects. */
  private owner(at: At, scope: Scope): { when: Condition | undefined; effects: readonly LinkedEffect[] } {
    return {
      when: at.maybe('when', (when) => this.condition(when, scope)),
      effects: at.listOf('do', (effect, number) => ({
        number: number + 1,
        effect: readEffect(effect, this.names, scope),
      })),
    }
  }

  private condition(at: At, scope: Scope): Condition {
    return { source: '', expr: readCondition(at, this.names, scope), address: '', part: 'when' }
  }
}

function indexes(ids: readonly string[]): Map<string, number> {
  return new Map(ids.map((id, index) => [id, index]))
}
