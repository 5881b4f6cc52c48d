import { seededRandom, type Random } from '../../src/core/base/random'
import { writeStory } from '../../src/core/story/write'
import {
  isGroup,
  isPlain,
  linesOf,
  type Beat,
  type Choice,
  type Entry,
  type EntryValue,
  type Line,
  type Order,
  type PlainLine,
  type Rule,
  type Scene,
  type Story,
  type StoryPromise,
  type Turn,
} from '../../src/core/story/types'

/** Small stories that use everything the document has, also in ways nobody would write. */
export function randomStory(seed: number, size: 'tiny' | 'small' = 'small'): Story {
  const draw = new Draw(seededRandom(seed), size === 'tiny' ? 0.6 : 1)
  const story = withMore(draw.story(seed), seededRandom(seed * 31 + 7))
  // A generated story is a document like any other: it must survive being written and read.
  return JSON.parse(writeStory(story)) as Story
}

/** Names of lines, default words, journals and translations, drawn apart: what a seed gives otherwise stays the same. */
function withMore(story: Story, random: Random): Story {
  const texts = [
    'Plain.',
    '{coin} left.',
    '{own0}',
    '{quest_dig, select, done {Dug.} other {Not yet, {name}.}}',
    '{',
    '{lit}',
  ]
  for (const quest of story.quests ?? [])
    for (const stage of quest.stages) if (random.chance(0.3)) stage.journal = random.pick(texts)
  const keys: string[] = [
    'person/odile',
    'ending/sea',
    'quest/dig',
    'stage/dig.done',
    'journal/dig.asked',
    'line/s0.b0/gone',
  ]
  for (const scene of story.scenes)
    for (const beat of scene.beats) {
      const address = `${scene.id}.${beat.id}`
      for (const line of linesOf(beat)) {
        if (!random.chance(0.4)) continue
        line.id = random.pick(['one', 'two', 'three'])
        keys.push(`line/${address}/${line.id}`)
      }
      for (const choice of beat.choices ?? []) keys.push(`choice/${address}.${choice.id}`)
      if (beat.ask === undefined) continue
      if (random.chance(0.4)) beat.ask.default = random.pick(['Wren', ' Moss ', 'Plover', ' ', ''])
      keys.push(`prompt/${address}`, `suggest/${address}/1`)
    }
  if (random.chance(0.3)) nameUntilKnown(story, random)
  if (random.chance(0.4)) takeTurns(story, random)
  if (random.chance(0.35)) giveSome(story, random)
  if (!random.chance(0.4)) return story
  const translations = [...texts, 'Ein Wort', '{tide, plural, one {# Flut} other {# Fluten}}', 'halb }', '{coin}']
  const translated = keys.filter(() => random.chance(0.5))
  return {
    ...story,
    languages: {
      de: { texts: Object.fromEntries(translated.map((key) => [key, { text: random.pick(translations) }])) },
    },
  }
}

/** Names until known, titles, and cues; of these some that are not declared. */
function nameUntilKnown(story: Story, random: Random): void {
  story.cues = [{ id: 'bell', name: 'Bell' }, ...(random.chance(0.1) ? [{ id: 'bell', name: 'Again' }] : [])]
  const whens = [
    'lit',
    "visits('s0.b0') == 0",
    "name == 'Heron'",
    'tide > 1 && coin == 0',
    "quest.dig == 'done'",
    'own0 == 1',
    'no such',
  ]
  story.cast![0]!.called = Array.from({ length: 1 + random.below(2) }, (_, at) => ({
    when: random.pick(whens),
    name: at === 0 ? 'the keeper' : 'Wren',
  }))
  const texts = [
    'Ask {person_odile}.',
    '{person_odile, select, Wren {{nick}} other {Hm}}',
    '{person_odile, select, Odile {Hm} other {You, {name}}}',
    '{person_nobody}',
  ]
  for (const { beats } of story.scenes)
    for (const beat of beats) {
      if (random.chance(0.3)) beat.title = '東の桟橋'
      for (const line of [...linesOf(beat), ...(beat.choices ?? [])]) {
        if (random.chance(0.25)) line.text = random.pick(texts)
        if (random.chance(0.2)) line.cues = [{ cue: random.pick(['bell', 'bell', 'gone']), with: 'twice' }]
      }
    }
}

const ORDERS: readonly (Order | undefined)[] = [undefined, 'again', 'last', 'once', 'any']

/** Makes turns of some lines, alone and in variants; what they do and ask goes along. */
function takeTurns(story: Story, random: Random): void {
  const turnsOf = (lines: readonly PlainLine[]): Turn[] => [
    { lines: lines.map((line) => ({ ...line })) },
    ...Array.from({ length: random.below(3) }, (_, at) => ({
      lines: random.chance(0.2) ? [] : [{ text: random.pick(['Again.', '{name}?', '{lit}']), ...does(at) }],
    })),
  ]
  const does = (at: number) =>
    random.chance(0.4)
      ? { do: [random.pick(['tide += 1', 'coin -= 1', 'lit = true'])] }
      : at > 0
        ? { when: 'coin > 0' }
        : {}
  for (const scene of story.scenes)
    for (const beat of scene.beats)
      beat.lines = beat.lines?.map((line): Line => {
        const order = random.pick(ORDERS)
        const how = order === undefined ? {} : { order }
        if (isPlain(line) && random.chance(0.3)) {
          const { when, ...rest } = line
          return { ...(when === undefined ? {} : { when }), ...how, inTurn: turnsOf([rest]) }
        }
        if (isGroup(line))
          for (const variant of line.firstOf)
            if (random.chance(0.2)) {
              Object.assign(variant, how, { inTurn: turnsOf(variant.lines!) })
              delete variant.lines
            }
        return line
      })
}

/** Makes some entries the game's own. What wrote them does nothing any more, and what reads them must take them as they come. */
function giveSome(story: Story, random: Random): void {
  for (const entry of story.ledger ?? []) {
    if (entry.id === 'score' || !random.chance(0.25)) continue
    entry.given = random.chance(0.6) ? 'rest' : 'begin'
    if (entry.kind === 'text' && random.chance(0.15)) entry.initial = ' Wren '
    if (entry.kind === 'counter') entry.max += random.below(4)
  }
  for (const route of story.routes ?? []) {
    if (random.chance(0.7)) route.decisions.unshift({ given: random.chance(0.5) ? {} : { paid: true } })
    if (random.chance(0.5))
      route.decisions.push({
        given: random.pick<Record<string, EntryValue>>([
          { lit: false },
          { lamp: 'lost' },
          { coin: 99 },
          { nick: 'Moss' },
          { own0: 1 },
        ]),
      })
  }
}

class Draw {
  private readonly scenes: { id: string; beats: { id: string; choices: string[] }[]; own: string[] }[] = []
  private readonly flags = ['lit', 'paid']
  private readonly switches = ['lamp']
  private readonly counters = ['tide', 'coin']
  private readonly texts = ['name', 'nick']
  private readonly quests = ['dig', 'swarm']
  private readonly stages = ['asked', 'done', 'lost']
  private readonly endings = ['home', 'sea']
  private readonly words = ['Wren', 'Heron', 'Moss', '']
  private scene = 0
  private promise = false

  constructor(
    private readonly random: Random,
    private readonly scale: number,
  ) {}

  story(seed: number): Story {
    const { random } = this
    const sceneCount = 1 + random.below(3)
    for (let s = 0; s < sceneCount; s += 1) {
      const beats = Array.from({ length: 1 + random.below(Math.ceil(4 * this.scale)) }, (_, b) => ({
        id: `b${b}`,
        choices: Array.from({ length: random.below(4) }, (_, c) => `c${c}`),
      }))
      this.scenes.push({ id: `s${s}`, beats, own: random.chance(0.3) ? [`own${s}`] : [] })
    }
    const promises = this.promises()
    return {
      paperCompass: 1,
      title: `Random ${seed}`,
      language: 'en',
      start: random.chance(0.95) ? this.beatAddress() : 's9.b9',
      cast: [{ id: 'odile', name: 'Odile' }],
      ledger: this.ledger(),
      quests: this.quests.map((id) => ({
        id,
        name: id,
        stages: this.stages.map((stage) => ({
          id: stage,
          name: stage,
          ...(stage === 'done' && random.chance(0.8) ? { outcome: 'success' as const } : {}),
          ...(stage === 'lost' && random.chance(0.5) ? { outcome: 'failure' as const } : {}),
        })),
        ...(random.chance(0.6)
          ? {
              moves: [
                ['unstarted', 'asked'],
                ['asked', 'done'],
              ] as [string, string][],
            }
          : {}),
      })),
      endings: this.endings.map((id) => ({ id, name: id })),
      scenes: this.scenes.map((scene, s) => this.sceneOf(scene, s)),
      promises,
      routes: random.chance(0.3)
        ? [
            {
              id: 'kept',
              name: 'Kept',
              decisions: this.list(3, () => ({ choice: this.choiceAddress() })),
              expect: { ending: 'home' },
            },
          ]
        : [],
    }
  }

  private ledger(): Entry[] {
    const { random } = this
    return [
      ...this.flags.map((id) => ({ id, kind: 'flag' as const, initial: random.chance(0.3) })),
      {
        id: 'lamp',
        kind: 'switch',
        positions: ['dark', 'lit', 'lost'],
        ...(random.chance(0.3) ? { initial: 'lit' } : {}),
      },
      {
        id: 'tide',
        kind: 'counter',
        min: random.chance(0.3) ? -1 : 0,
        max: 2 + random.below(3),
        initial: random.below(3),
      },
      { id: 'coin', kind: 'item', max: 1 + random.below(3) },
      // counted, and asked for by nothing
      { id: 'score', kind: 'counter', min: 0, max: 2 },
      { id: 'name', kind: 'text', initial: random.chance(0.7) ? '' : 'Wren' },
      { id: 'nick', kind: 'text' },
    ]
  }

  private sceneOf(scene: (typeof this.scenes)[number], index: number): Scene {
    this.scene = index
    return {
      id: scene.id,
      title: scene.id,
      ledger: scene.own.map((id) => ({ id, kind: 'counter' as const, min: 0, max: 2 })),
      beats: scene.beats.map((beat) => this.beat(beat)),
    }
  }

  private beat({ id, choices }: { id: string; choices: string[] }): Beat {
    const { random } = this
    const beat: Beat = { id, lines: this.list(2, () => this.line()) }
    if (random.chance(0.3)) beat.place = true
    if (random.chance(0.25)) beat.redirects = this.list(2, () => this.rule(0.9))
    if (random.chance(0.3)) beat.arrive = this.list(2, () => ({ ...this.when(0.6), do: this.effects() }))
    const form = random.below(10)
    if (form === 0) beat.ending = random.chance(0.95) ? random.pick(this.endings) : 'nowhere'
    else if (form <= 2) beat.ask = { into: random.pick([...this.texts, 'name', 'tide']), prompt: this.text() }
    else if (choices.length > 0) beat.choices = choices.map((choice) => this.choice(choice))
    if (form !== 0 && random.chance(0.5)) beat.onward = this.list(3, () => this.rule(0.6))
    return beat
  }

  private choice(id: string): Choice {
    const { random } = this
    return {
      id,
      text: this.text(),
      ...this.when(0.5),
      ...(random.chance(0.25) ? { once: true } : {}),
      ...(random.chance(0.3) ? { closed: 'show' as const } : {}),
      ...(random.chance(0.5) ? { do: this.effects() } : {}),
      ...(random.chance(0.1) ? { who: 'odile' } : {}),
      to: random.chance(0.3) ? this.list(3, () => this.rule(0.6)) : this.target(),
    }
  }

  private line(): Line {
    if (this.random.chance(0.3)) {
      return { firstOf: this.list(3, () => ({ ...this.when(0.7), lines: this.list(2, () => this.plainLine()) })) }
    }
    return this.plainLine()
  }

  private plainLine(): PlainLine {
    return { text: this.text(), ...this.when(0.3), ...(this.random.chance(0.2) ? { do: this.effects() } : {}) }
  }

  private text(): string {
    return this.random.pick([
      'Plain.',
      'Plain words.',
      'Hello {name}.',
      '{lit, select, true {Bright {nick}} other {Dark}}',
      '{name, select, Wren {You again} other {Who is {name}}}',
      '{coin, plural, =0 {none} one {one, {nick}} other {# coins}}',
      '{quest_dig, select, done {Well dug, {name}} other {Dig}}',
      '{missing}',
    ])
  }

  private rule(condition: number): Rule {
    return { ...this.when(condition), ...(this.random.chance(0.3) ? { do: this.effects() } : {}), to: this.target() }
  }

  private target(): string {
    if (this.random.chance(0.12)) return 'return'
    return this.random.chance(0.97) ? this.beatAddress() : ''
  }

  private when(chance: number): { when?: string } {
    return this.random.chance(chance) ? { when: this.random.chance(0.97) ? this.condition(2) : 'broken ==' } : {}
  }

  condition(depth: number): string {
    const { random } = this
    if (depth > 0 && random.chance(0.3)) {
      return `${this.side(depth)} ${random.pick(['&&', '||'])} ${this.side(depth)}`
    }
    if (depth > 0 && random.chance(0.15)) return `!(${this.condition(depth - 1)})`
    switch (random.below(this.promise ? 12 : 10)) {
      case 0:
        return random.pick(this.flags)
      case 1:
        return `lamp ${random.pick(['==', '!='])} '${random.pick(['dark', 'lit', 'lost'])}'`
      case 2:
        return `${random.pick(['atLeast', 'before'])}(${random.pick(["lamp, 'lit'", `quest.dig, '${random.pick(this.stages)}'`])})`
      case 3:
        return `quest.${random.pick(this.quests)} ${random.pick(['==', '!='])} '${random.pick(['unstarted', ...this.stages])}'`
      case 4:
        return `visits('${this.beatAddress()}') ${random.pick(['==', '>=', '<', '>'])} ${random.below(3)}`
      case 5:
        return `taken('${this.choiceAddress()}')`
      case 6:
        return random.pick([
          `name == '${random.pick(this.words)}'`,
          'name == nick',
          'name == lamp',
          'name in [\'Wren\', "Heron"]',
        ])
      case 7: {
        const own = this.promise ? undefined : this.scenes[this.scene]!.own[0]
        return `${own ?? 'tide'} ${random.pick(['==', '<', '>='])} ${random.below(3)}`
      }
      default:
        return `${this.number(1)} ${random.pick(['==', '!=', '<', '<=', '>', '>='])} ${this.number(1)}`
      case 10:
        return `at('${this.beatAddress()}')`
      case 11:
        return `ended('${random.pick(this.endings)}')`
    }
  }

  private side(depth: number): string {
    const inner = this.condition(depth - 1)
    return this.random.chance(0.7) ? `(${inner})` : inner
  }

  private number(depth: number): string {
    const { random } = this
    if (depth > 0 && random.chance(0.3)) return `${this.number(0)} ${random.pick(['+', '-', '*'])} ${this.number(0)}`
    return random.pick(['tide', 'coin', String(random.below(4)), '-1', 'tide', 'coin'])
  }

  private effects(): string[] {
    return this.list(2, () => this.effect())
  }

  private effect(): string {
    const { random } = this
    switch (random.below(9)) {
      case 0:
        return `${random.pick(this.flags)} = ${random.pick(['true', 'false', '!lit', 'tide > 1'])}`
      case 1:
        return `lamp = '${random.pick(['dark', 'lit', 'lost'])}'`
      case 2:
      case 3:
        return `${random.pick(this.counters)} ${random.pick(['+=', '-=', '='])} ${random.pick(['1', '2', 'coin', 'tide + 1'])}`
      case 4:
        return `quest.${random.pick(this.quests)} = '${random.pick(['unstarted', ...this.stages])}'`
      case 5:
        return random.pick(["name = 'Heron'", 'name = nick', 'nick = name', "nick = ''"])
      case 6: {
        const own = this.scenes[this.scene]!.own[0]
        return own === undefined ? 'coin += 1' : `${own} += 1`
      }
      case 7:
        return random.chance(0.1) ? 'nothing = 1' : 'lit = true'
      default:
        return random.pick(['tide += 1', 'tide -= 1', 'score += 1', 'score = coin', 'score -= 2'])
    }
  }

  private promises(): StoryPromise[] {
    this.promise = true
    const made: StoryPromise[] = [
      { id: 'p1', kind: 'never', holds: this.condition(1) },
      { id: 'p2', kind: 'always', holds: this.condition(1) },
      { id: 'p3', kind: 'possible', holds: this.condition(1) },
      {
        id: 'p4',
        kind: 'stillPossible',
        holds: this.condition(1),
        ...(this.random.chance(0.5) ? { while: this.condition(0) } : {}),
      },
      { id: 'p5', kind: 'inOrder', first: this.condition(1), then: this.condition(1) },
    ]
    this.promise = false
    return made
  }

  private beatAddress(): string {
    const scene = this.random.pick(this.scenes)
    return `${scene.id}.${this.random.pick(scene.beats).id}`
  }

  private choiceAddress(): string {
    const scene = this.random.pick(this.scenes)
    const beat = this.random.pick(scene.beats)
    return `${scene.id}.${beat.id}.${beat.choices.length > 0 ? this.random.pick(beat.choices) : 'c0'}`
  }

  private list<T>(max: number, make: () => T): T[] {
    return Array.from({ length: 1 + this.random.below(max) }, make)
  }
}
