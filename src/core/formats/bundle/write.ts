import { operandsOf, type Expr } from '../../expression/ast'
import { orderOf } from '../../play/state'
import type {
  Condition,
  LinkedBeat,
  LinkedChoice,
  LinkedCue,
  LinkedEffect,
  LinkedLine,
  LinkedRule,
  LinkedStory,
  LinkedTurns,
  Road,
} from '../../story/linked'
import type {
  Bundle,
  BundleBeat,
  BundleChoice,
  BundleCue,
  BundleEffect,
  BundleExpr,
  BundleLine,
  BundlePlainLine,
  BundleRoad,
  BundleRule,
  BundleTurns,
} from './format'
import { localeOf } from './locale'
import { TextTable } from './write-texts'

/** What is left out of a bundle: what no route comes to, by address. */
export interface LeftOut {
  readonly beats: ReadonlySet<string>
  readonly choices: ReadonlySet<string>
}

const NOTHING: LeftOut = { beats: new Set(), choices: new Set() }

/**
 * A story as engines read it. Notes and what only the Desk needs are left out; a part that can't be understood is there
 * and holds, does or leads to nothing. `leftOut`: what the survey decided that no route comes to.
 */
export function writeBundle(story: LinkedStory, leftOut: LeftOut = NOTHING): Bundle {
  return new Writer(story, leftOut).bundle()
}

class Writer {
  private readonly table: TextTable
  private readonly cueOf: ReadonlyMap<string, number>
  private readonly beats: readonly LinkedBeat[]
  /** By index in the story, the number in the bundle. */
  private readonly beatNumbers = new Map<number, number>()
  private readonly choiceNumbers = new Map<number, number>()
  private readonly choicesOf: (beat: LinkedBeat) => readonly LinkedChoice[]

  constructor(
    private readonly story: LinkedStory,
    leftOut: LeftOut,
  ) {
    this.table = new TextTable(story)
    this.cueOf = new Map([...story.cues.keys()].map((id, at) => [id, at]))
    this.beats = story.inOrder.filter(({ address }) => !leftOut.beats.has(address))
    this.choicesOf = ({ choices }) => choices.filter(({ address }) => !leftOut.choices.has(address))
    this.beats.forEach((beat, number) => {
      this.beatNumbers.set(beat.index, number)
      for (const { index } of this.choicesOf(beat)) this.choiceNumbers.set(index, this.choiceNumbers.size)
    })
  }

  bundle(): Bundle {
    const { story, table } = this
    const bundle = {
      paperCompassBundle: 1,
      title: story.doc.title,
      language: story.doc.language,
      start: this.beatNumbers.get(story.start) ?? -1,
      scenes: story.scenes.map(({ id }) => id),
      entries: story.entries.map(({ id, kind, entry, initial, scene, given, positions, min, max }) => ({
        id,
        ...(entry.name === undefined ? {} : { name: entry.name }),
        kind,
        initial,
        ...(scene === -1 ? {} : { scene }),
        ...(given === undefined ? {} : { given }),
        ...(kind === 'switch' ? { positions } : {}),
        ...(kind === 'counter' || kind === 'item' ? { min, max } : {}),
      })),
      quests: story.quests.map(({ id, name, stages, names, outcomes }) => ({
        id,
        name: table.name(name, `quest/${id}`),
        stages: stages.map((stage, at) => {
          const journal = story.journals.get(`${id}.${stage}`)
          return {
            id: stage,
            ...(at === 0 ? {} : { name: table.name(names[at]!, `stage/${id}.${stage}`) }),
            ...(outcomes[at] === undefined ? {} : { outcome: outcomes[at] }),
            ...(journal === undefined ? {} : { journal: table.text(journal, `journal/${id}.${stage}`) }),
          }
        }),
      })),
      endings: story.endings.map(({ id, name }) => ({ id, name: table.name(name, `ending/${id}`) })),
      cues: [...story.cues].map(([id, name]) => ({ id, name })),
      people: [...story.people.values()].map(({ id, name, called }) => ({
        id,
        name: table.name(name, `person/${id}`),
        ...(called.length === 0
          ? {}
          : { called: called.map((one) => ({ when: this.test(one.when), name: table.name(one.name) })) }),
      })),
      beats: this.beats.map((beat) => this.beat(beat)),
    } as const
    const languages = Object.keys(table.texts)
    return {
      ...bundle,
      texts: table.texts,
      locales: Object.fromEntries(languages.map((language) => [language, localeOf(language)])),
    }
  }

  private beat(beat: LinkedBeat): BundleBeat {
    const { address, ask } = beat
    const choices = this.choicesOf(beat)
    return {
      id: address,
      scene: beat.scene,
      ...(beat.place ? { place: true } : {}),
      ...list('redirects', this.rules(beat.redirects)),
      ...list(
        'arrive',
        beat.arrive.map(({ when, effects }) => ({ ...this.when(when), ...this.effects(effects) })),
      ),
      ...list(
        'lines',
        beat.lines.map((line) => this.line(line, address)),
      ),
      ...list(
        'choices',
        choices.map((choice) => this.choice(choice)),
      ),
      ...(ask === undefined
        ? {}
        : {
            ask: {
              into: ask.into,
              prompt: this.table.text(ask.prompt, `prompt/${address}`),
              ...list(
                'suggest',
                ask.suggest.map((word, at) => this.table.name(word, `suggest/${address}/${at + 1}`)),
              ),
              ...(ask.default === undefined ? {} : { default: ask.default }),
            },
          }),
      ...(beat.ending === -1 ? {} : { ending: beat.ending }),
      ...list('onward', this.rules(beat.onward)),
    }
  }

  /** A rule to a beat that is left out is used on no route, so it is left out with it. */
  private rules(rules: readonly LinkedRule[]): BundleRule[] {
    return rules
      .filter(({ to }) => to.kind !== 'beat' || this.beatNumbers.has(to.beat))
      .map(({ when, effects, to }) => ({ ...this.when(when), ...this.effects(effects), to: this.road(to) }))
  }

  private road(to: Road): BundleRoad {
    switch (to.kind) {
      case 'beat':
        return this.beatNumbers.get(to.beat) ?? null
      case 'return':
        return 'return'
      case 'nowhere':
        return null
    }
  }

  private line(line: LinkedBeat['lines'][number], beat: string): BundleLine {
    switch (line.kind) {
      case 'line':
        return this.plainLine(line, beat)
      case 'turns':
        return { ...this.turns(line, beat), ...this.when(line.when) }
      case 'group':
        return {
          firstOf: line.variants.map(({ when, lines, turns }) => ({
            ...this.when(when),
            ...list(
              'lines',
              lines.map((one) => this.plainLine(one, beat)),
            ),
            ...(turns === undefined ? {} : { turns: this.turns(turns, beat) }),
          })),
        }
    }
  }

  private turns({ address, order, turns }: LinkedTurns, beat: string): BundleTurns {
    return { group: address, order, inTurn: turns.map(({ lines }) => lines.map((line) => this.plainLine(line, beat))) }
  }

  private plainLine(line: LinkedLine, beat: string): BundlePlainLine {
    const { id, speaker, manner } = line
    return {
      text: this.table.text(line.text, id === undefined ? undefined : `line/${beat}/${id}`),
      ...(id === undefined ? {} : { id }),
      ...(speaker === undefined ? {} : { speaker }),
      manner,
      ...this.when(line.when),
      ...this.effects(line.effects),
      ...this.cues(line.cues),
    }
  }

  private choice(choice: LinkedChoice): BundleChoice {
    return {
      id: choice.address,
      text: this.table.text(choice.text, `choice/${choice.address}`),
      ...(choice.who === undefined ? {} : { who: choice.who }),
      ...this.when(choice.when),
      ...(choice.once ? { once: true } : {}),
      ...(choice.shownClosed ? { shown: true } : {}),
      ...this.effects(choice.effects),
      ...this.cues(choice.cues),
      to: choice.to.kind === 'road' ? this.road(choice.to.road) : this.rules(choice.to.rules),
    }
  }

  private cues(cues: readonly LinkedCue[]): { cues?: readonly BundleCue[] } {
    return list(
      'cues',
      cues.map(({ cue, with: passed }): BundleCue => {
        const at = this.cueOf.get(cue)!
        return passed === undefined ? [at] : [at, passed]
      }),
    )
  }

  private when(condition: Condition | undefined): { when?: BundleExpr } {
    return condition === undefined ? {} : { when: this.test(condition) }
  }

  /** What can't be understood never holds. */
  private test({ expr }: Condition): BundleExpr {
    return expr === undefined ? false : this.expr(expr)
  }

  private effects(effects: readonly LinkedEffect[]): { do?: readonly BundleEffect[] } {
    return list(
      'do',
      effects.map(({ effect }): BundleEffect => {
        const { story } = this
        if (effect.kind === 'stage') {
          const quest = story.questOf.get(effect.quest)!
          const stage = effect.value.kind === 'string' ? effect.value.value : ''
          return ['stage', quest, story.quests[quest]!.stages.indexOf(stage)]
        }
        const sign = { set: '=', add: '+=', subtract: '-=' } as const
        return [sign[effect.kind], story.entryOf.get(effect.entry)!, this.expr(effect.value)]
      }),
    )
  }

  private expr(expr: Expr): BundleExpr {
    switch (expr.kind) {
      case 'bool':
      case 'int':
      case 'string':
        return expr.value
      case 'entry':
        return ['entry', this.story.entryOf.get(expr.id)!]
      case 'quest':
        return ['quest', this.story.questOf.get(expr.id)!]
      case 'visits': {
        const beat = this.beatNumbers.get(this.story.beatOf.get(expr.beat)!)
        return beat === undefined ? 0 : ['visits', beat]
      }
      case 'taken': {
        const choice = this.choiceNumbers.get(this.story.choiceOf.get(expr.choice)!)
        return choice === undefined ? false : ['taken', choice]
      }
      case 'not':
        return ['not', this.expr(expr.operand)]
      case 'negate':
        return ['negate', this.expr(expr.operand)]
      case 'and':
      case 'or': {
        const [first, second, ...more] = operandsOf(expr, expr.kind).map((part) => this.expr(part))
        return [expr.kind, first!, second!, ...more]
      }
      case 'compare':
      case 'arithmetic':
        return [expr.op, this.expr(expr.left), this.expr(expr.right)]
      case 'in':
        return ['in', this.expr(expr.left), expr.items.map((item) => this.expr(item))]
      case 'order': {
        const subject = this.expr(expr.subject) as readonly ['entry' | 'quest', number]
        return [expr.name, subject, orderOf(this.story, expr.subject).indexOf(expr.position)]
      }
      case 'at':
      case 'ended':
        // in promises only, and no bundle has those
        return false
    }
  }
}

/** A list under a key, left out where it is empty. */
function list<Key extends string, Item>(key: Key, items: readonly Item[]): { readonly [K in Key]?: readonly Item[] } {
  return items.length === 0 ? {} : ({ [key]: items } as { readonly [K in Key]?: readonly Item[] })
}
