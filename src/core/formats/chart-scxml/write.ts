import { idFrom } from '../../base/id-from'
import { VISITS_MAX } from '../../base/limits'
import { escapeXml } from '../../base/xml'
import type {
  Condition,
  LinkedBeat,
  LinkedChoice,
  LinkedLine,
  LinkedRule,
  LinkedStory,
  LinkedTurns,
  Road,
} from '../../story/linked'
import { eachText, choicesOf } from '../../story/linked-parts'
import type { StateChart } from '../form'
import { literal, unlessTrue, firstOf, assign, element, comment, inComment, type Lines } from './elements'
import { allOf, anyOf, Expressions, FALSE, scriptString, TRUE, type Assignment } from './expressions'

const RETURN = 'story-return'
const BEGIN = 'story-begin'

/**
 * A story as a state chart (W3C State Chart XML 1.0, 2015, with its ECMAScript data model). A beat is a state with one in it
 * for each step of coming to it: `-come` (redirects), then `-rest` (choices, onward) or `-ask` (a word) and `-after`, or a
 * final state. Decisions are events: `choice.SCENE.BEAT.CHOICE`, `word.SCENE.BEAT` with the word as its data, `given` with
 * values by entry; where the game gives values, `begin` begins the story. `left` tells what it can't express.
 */
export function writeScxml(story: LinkedStory): StateChart {
  return new Writer(story).write()
}

class Writer {
  private readonly expressions: Expressions
  private readonly places: readonly LinkedBeat[]

  constructor(private readonly story: LinkedStory) {
    this.expressions = new Expressions(story)
    this.places = story.inOrder.filter(({ place }) => place)
  }

  write(): StateChart {
    const { story } = this
    const isGiven = story.entries.some(({ given }) => given !== undefined)
    const first = story.beats[story.start]
    const scenes = story.scenes.flatMap(({ id }, scene) => {
      const beats = story.inOrder.filter((beat) => beat.scene === scene)
      return beats.length === 0
        ? []
        : element(
            'state',
            { id: `${id}-scene` },
            beats.flatMap((beat) => this.beat(beat)),
          )
    })
    const initial = isGiven ? BEGIN : first && `${first.address}-come`
    const states = [
      ...(isGiven ? this.beginning(first) : []),
      ...(initial === undefined ? element('state', { id: 'nowhere' }) : []),
      ...element('state', { id: 'story' }, [
        ...(isGiven ? this.giving('rest') : []),
        ...scenes,
        ...(this.places.length > 0 ? this.returning() : []),
      ]),
      ...story.endings.flatMap(({ id, name }) => [comment(name), ...element('final', { id: `ended-${id}` })]),
    ]
    const root = {
      xmlns: 'http://www.w3.org/2005/07/scxml',
      version: '1.0',
      datamodel: 'ecmascript',
      // programs make a name of their own language of it
      name: idFrom(story.doc.title, 'story'),
      initial: initial ?? 'nowhere',
    }
    const body = [...this.data(), ...(isGiven ? this.script() : []), ...states]
    const left = this.left()
    const head = left.length === 0 ? [] : ['<!--', ...left.map((one) => `  ${inComment(one)}`), '-->']
    const lines = ['<?xml version="1.0" encoding="UTF-8"?>', ...head, ...element('scxml', root, body)]
    return { text: `${lines.join('\n')}\n`, left }
  }

  private data(): Lines {
    const { entries, quests, inOrder, turnGroups } = this.story
    const data = (id: string, expr: string) => element('data', { id, expr })
    const object = (pairs: readonly (readonly [string, string])[]) =>
      `{${pairs.map(([key, value]) => `${scriptString(key)}: ${value}`).join(', ')}}`
    return element('datamodel', {}, [
      ...data('ledger', object(entries.map(({ id, initial }) => [id, literal(initial)]))),
      ...data('quest', object(quests.map(({ id }) => [id, '"unstarted"']))),
      ...data('visits', object(inOrder.map(({ address }) => [address, '0']))),
      ...data('taken', object(choicesOf(this.story).map(({ address }) => [address, 'false']))),
      ...data('turns', object(turnGroups.map(({ address }) => [address, '0']))),
      ...data('place', 'null'),
      ...data('scene', 'null'),
      ...data('at', 'null'),
    ])
  }

  /** Whether the game may set what it gives. */
  private script(): Lines {
    const domains = this.story.entries
      .filter(({ given }) => given !== undefined)
      .map(({ id, kind, given, positions, min, max }) => {
        const value = 'values[id]'
        const fits = {
          flag: `typeof ${value} === "boolean"`,
          switch: `[${positions.map(scriptString).join(', ')}].indexOf(${value}) >= 0`,
          counter: `typeof ${value} === "number" && Math.floor(${value}) === ${value} && ${value} >= ${min} && ${value} <= ${max}`,
          item: `typeof ${value} === "number" && Math.floor(${value}) === ${value} && ${value} >= ${min} && ${value} <= ${max}`,
          text: `typeof ${value} === "string" && ${value} === ${value}.trim()`,
        }[kind]
        return `    case ${scriptString(id)}: if (!(${given === 'begin' ? 'begins && ' : ''}${fits})) return false; break;`
      })
    const source = [
      'function mayBeGiven(values, begins) {',
      '  for (var id in values) switch (id) {',
      ...domains,
      '    default: return false;',
      '  }',
      '  return true;',
      '}',
    ]
    return ['<script>', ...source.map(escapeXml), '</script>']
  }

  private giving(when: 'begin' | 'rest'): Lines {
    const sets = this.story.entries
      .filter(({ given }) => given === 'rest' || given === when)
      .flatMap(({ id }) => {
        const location = `ledger.${id}`
        const named = `_event.data && _event.data.hasOwnProperty(${scriptString(id)})`
        return assign({ location, value: `${named} ? _event.data.${id} : ${location}` })
      })
    return element('transition', { event: 'given', cond: `mayBeGiven(_event.data, ${when === 'begin'})` }, sets)
  }

  private beginning(first: LinkedBeat | undefined): Lines {
    const target = first && { event: 'begin', target: `${first.address}-come` }
    return element('state', { id: BEGIN }, [
      ...this.giving('begin'),
      ...(target === undefined ? [] : element('transition', target)),
    ])
  }

  /** Where "return" leads is only known then. */
  private returning(): Lines {
    return element(
      'state',
      { id: RETURN },
      this.places.flatMap(({ address }) =>
        element('transition', { cond: `place === ${scriptString(address)}`, target: `${address}-come` }),
      ),
    )
  }

  private beat(beat: LinkedBeat): Lines {
    const { address, ending, ask, redirects, onward, choices } = beat
    const goesTo =
      ending !== -1 ? `ended-${this.story.endings[ending]!.id}` : `${address}-${ask === undefined ? 'rest' : 'ask'}`
    const come = element('state', { id: `${address}-come` }, [
      ...this.entering(beat),
      ...redirects.flatMap((rule) => this.rule(rule)),
      ...element('transition', { target: goesTo }, this.coming(beat)),
    ])
    const opens = choices.map((choice) => this.openness(choice))
    const closed = anyOf(opens)
    const going = (unless: string) =>
      onward.flatMap((rule) => this.rule(rule, unless === FALSE ? TRUE : unless === TRUE ? FALSE : `!(${unless})`))
    const rest =
      ending !== -1
        ? []
        : ask !== undefined
          ? [...this.asking(beat), ...element('state', { id: `${address}-after` }, going(FALSE))]
          : [
              ...element('state', { id: `${address}-rest` }, [
                ...going(closed),
                ...choices.flatMap((choice, at) => this.choice(choice, opens[at]!)),
              ]),
              ...choices.flatMap((choice) => this.rulesOf(choice)),
            ]
    return element('state', { id: address }, [...come, ...rest])
  }

  private entering({ address, scene }: LinkedBeat): Lines {
    const { id } = this.story.scenes[scene]!
    const own = this.story.entries
      .filter((entry) => entry.scene === scene)
      .flatMap((entry) => assign({ location: `ledger.${entry.id}`, value: literal(entry.initial) }))
    return element('onentry', {}, [
      ...(own.length === 0 ? [] : element('if', { cond: `scene !== ${scriptString(id)}` }, own)),
      ...assign({ location: 'scene', value: scriptString(id) }),
      ...assign({ location: 'at', value: scriptString(address) }),
    ])
  }

  /** What happens on coming to a beat that does not redirect: place, visit, arrival, lines. */
  private coming({ address, place, arrive, lines }: LinkedBeat): Lines {
    const visits = `visits['${address}']`
    return [
      ...(place ? assign({ location: 'place', value: scriptString(address) }) : []),
      ...assign({ location: visits, value: `Math.min(${VISITS_MAX}, ${visits} + 1)` }),
      ...arrive.flatMap(({ address: owner, when, effects }) =>
        this.when(when, this.expressions.effects(effects, owner).flatMap(assign)),
      ),
      ...lines.flatMap((line) => {
        if (line.kind === 'line') return this.line(line)
        if (line.kind === 'turns') return this.when(line.when, this.turns(line))
        const variants = line.variants.map((variant): [string, Lines] => [
          this.expressions.condition(variant.when),
          variant.turns === undefined ? variant.lines.flatMap((one) => this.line(one)) : this.turns(variant.turns),
        ])
        return firstOf(variants)
      }),
    ]
  }

  private line({ address, when, effects, text, cues }: LinkedLine): Lines {
    return this.when(when, [
      ...element('log', { label: address, expr: scriptString(text.source) }),
      ...this.cues(cues),
      ...this.expressions.effects(effects, address).flatMap(assign),
    ])
  }

  private cues(cues: LinkedLine['cues']): Lines {
    return cues.flatMap(({ cue, with: more }) =>
      element('log', { label: `cue ${cue}`, expr: scriptString(more ?? '') }),
    )
  }

  /** The turn that is next; how often the group was come to counts on. */
  private turns({ address, order, turns }: LinkedTurns): Lines {
    const times = `turns['${address}']`
    const shows = turns.map((turn, at): [string, Lines] => {
      const isNext =
        order === 'once'
          ? `${times} === ${at}`
          : order === 'last' && at === turns.length - 1
            ? `${times} >= ${at}`
            : order === 'last'
              ? `${times} === ${at}`
              : `${times} % ${turns.length} === ${at}`
      return [isNext, turn.lines.flatMap((one) => this.line(one))]
    })
    return [...firstOf(shows), ...assign({ location: times, value: `${times} + 1` })]
  }

  private asking({ address, ask }: LinkedBeat): Lines {
    const { into, default: empty } = ask!
    const word = '_event.data.trim()'
    const entry = this.story.entries[into]
    const value = empty === undefined ? word : `${word} || ${scriptString(empty)}`
    const cond = `typeof _event.data === "string"${empty === undefined ? ` && ${word} !== ""` : ''}`
    return element('state', { id: `${address}-ask` }, [
      comment(ask!.prompt.source),
      ...element('transition', { event: `word.${address}`, cond, target: `${address}-after` }, [
        ...(entry === undefined ? [] : assign({ location: `ledger.${entry.id}`, value })),
      ]),
    ])
  }

  private choice(choice: LinkedChoice, cond: string): Lines {
    const { address, text, effects, cues, to } = choice
    const target = to.kind === 'rules' ? address : this.target(to.road)
    if (cond === FALSE || target === undefined) return [comment(`${address} is never open: ${text.source}`)]
    return [
      comment(text.source),
      ...element('transition', { event: `choice.${address}`, ...unlessTrue(cond), target }, [
        ...assign(this.takes(address)),
        ...this.cues(cues),
        ...this.expressions.effects(effects, address).flatMap(assign),
      ]),
    ]
  }

  private takes(address: string): Assignment {
    return { location: `taken['${address}']`, value: TRUE }
  }

  /** The state in which it is decided where a choice with a list leads. */
  private rulesOf({ address, to }: LinkedChoice): Lines {
    if (to.kind === 'road') return []
    return element(
      'state',
      { id: address },
      to.rules.flatMap((rule) => this.rule(rule)),
    )
  }

  private rule({ address, when, effects, to }: LinkedRule, and = TRUE): Lines {
    const target = this.target(to)
    const cond = allOf([and, this.expressions.condition(when), this.leads(to)])
    if (target === undefined || cond === FALSE) return []
    return element(
      'transition',
      { ...unlessTrue(cond), target },
      this.expressions.effects(effects, address).flatMap(assign),
    )
  }

  private openness({ address, when, once, effects, to }: LinkedChoice): string {
    const gate = [this.expressions.condition(when), once ? `!taken['${address}']` : TRUE]
    if (to.kind === 'road') return allOf([...gate, this.leads(to.road)])
    const some = anyOf(to.rules.map((rule) => allOf([this.expressions.condition(rule.when), this.leads(rule.to)])))
    if (some === TRUE || some === FALSE) return allOf([...gate, some])
    // the rules are asked after the choice is taken: tried on objects that stand before the real ones
    const tried = [this.takes(address), ...this.expressions.effects(effects, address)]
      .map(({ location, value }) => `${location} = ${value}; `)
      .join('')
    const trial = `(function (ledger, quest, taken) { ${tried}return ${some}; })`
    return allOf([...gate, `${trial}(Object.create(ledger), Object.create(quest), Object.create(taken))`])
  }

  private leads(road: Road): string {
    switch (road.kind) {
      case 'beat':
        return TRUE
      case 'nowhere':
        return FALSE
      case 'return':
        return this.places.length === 0 ? FALSE : 'place !== null'
    }
  }

  private target(road: Road): string | undefined {
    switch (road.kind) {
      case 'beat':
        return `${this.story.beats[road.beat]!.address}-come`
      case 'nowhere':
        return undefined
      case 'return':
        return this.places.length === 0 ? undefined : RETURN
    }
  }

  private when(condition: Condition | undefined, lines: Lines): Lines {
    return firstOf([[this.expressions.condition(condition), lines]])
  }

  private left(): string[] {
    let shown = 0
    for (const beat of this.story.inOrder)
      eachText(beat, ({ isPlain, parsed }) => (shown += isPlain || parsed === undefined ? 0 : 1))
    return [
      ...(shown === 0 ? [] : [`texts that show something of the story (${shown}) are logged as they are written`]),
      ...(this.story.turnGroups.some(({ order }) => order === 'any')
        ? ['where the game picks any turn, the turns are taken one after another']
        : []),
      ...[...this.expressions.inexact].map((address) => `${address}: numbers beyond 2^53 are not exact`),
    ]
  }
}
