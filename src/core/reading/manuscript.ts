import { plainId } from '../base/ids'
import { sayCondition, sayEffect, type Names } from '../expression/words'
import { BACK } from '../story/reshape/script-paste'
import { linkedNames } from '../story/linked-names'
import type {
  Condition,
  LinkedBeat,
  LinkedChoice,
  LinkedCue,
  LinkedEffect,
  LinkedGroup,
  LinkedLine,
  LinkedStory,
  LinkedTurns,
  Road,
} from '../story/linked'
import type { Beat, Order } from '../story/types'
import type { Block, Destination, ReadingCopy } from './copy'

const ORDERS: Readonly<Record<Order, string>> = {
  again: 'in turn, then from the first again',
  last: 'in turn, then always the last',
  once: 'in turn, then nothing',
  any: 'any of these',
}

/** The manuscript of a story, or of one of its scenes, as it is read on paper: gates and effects in words. */
export function manuscriptCopy(story: LinkedStory, made: Date, scene?: string): ReadingCopy {
  const writer = new Manuscript(story)
  story.scenes.forEach((one, at) => {
    if (scene !== undefined && one.id !== scene) return
    writer.blocks.push({ of: 'scene', title: one.title, ...(one.notes ? { notes: one.notes } : {}) })
    for (const beat of story.inOrder) if (beat.scene === at) writer.beat(beat)
  })
  const { doc } = story
  const part = doc.scenes.find(({ id }) => id === scene)?.title
  return {
    title: doc.title,
    ...(part === undefined ? {} : { part }),
    ...(doc.page?.author ? { author: doc.page.author } : {}),
    language: doc.language,
    made,
    blocks: writer.blocks,
  }
}

class Manuscript {
  readonly blocks: Block[] = []
  private readonly names: Names
  private readonly docs = new Map<string, Beat>()

  constructor(private readonly story: LinkedStory) {
    this.names = linkedNames(story)
    for (const { id, beats } of story.scenes)
      for (const beat of beats) if (!this.docs.has(`${id}.${beat.id}`)) this.docs.set(`${id}.${beat.id}`, beat)
  }

  beat(beat: LinkedBeat): void {
    const { address } = beat
    const doc = this.docs.get(address)
    this.blocks.push({ of: 'beat', address, title: this.titleOf(address), ...(doc?.notes ? { notes: doc.notes } : {}) })
    for (const { when, effects, to } of beat.redirects)
      this.remark([this.gate(when), ...this.effects(effects), 'goes on at once'], 0, this.destination(to))
    for (const { when, effects } of beat.arrive)
      this.remark(['on arriving', this.gate(when), ...this.effects(effects)], 0)
    for (const line of beat.lines)
      if (line.kind === 'line') this.line(line, address, 0)
      else if (line.kind === 'turns') this.turns(line, address, 0)
      else this.group(line, address)
    if (beat.ask !== undefined)
      this.blocks.push({
        of: 'prompt',
        key: `prompt/${address}`,
        text: beat.ask.prompt.source,
        suggest: beat.ask.suggest,
      })
    for (const choice of beat.choices) this.choice(choice)
    for (const { when, effects, to } of beat.onward)
      this.remark([this.gate(when), ...this.effects(effects), 'goes on'], 0, this.destination(to))
    if (beat.ending >= 0) this.blocks.push({ of: 'ending', name: this.story.endings[beat.ending]!.name })
  }

  private line(line: LinkedLine, address: string, depth: number): void {
    const { id, when, effects, text, cues, speaker, manner } = line
    this.blocks.push({
      of: 'line',
      ...(id === undefined ? {} : { key: `line/${address}/${id}` }),
      ...(speaker === undefined ? {} : { who: this.person(speaker) }),
      manner,
      text: text.source,
      depth,
      remarks: [this.gate(when), ...this.effects(effects), ...this.cues(cues)].filter((one) => one !== undefined),
    })
  }

  private group(group: LinkedGroup, address: string): void {
    group.variants.forEach(({ when, lines, turns }, at) => {
      const gate = this.gate(when)
      this.remark([gate ?? (at === 0 ? 'always' : 'otherwise')], 0)
      for (const line of lines) this.line(line, address, 1)
      if (turns !== undefined) this.turns(turns, address, 1)
    })
  }

  private turns({ when, order, turns }: LinkedTurns, address: string, depth: number): void {
    // a variant's own gate is told with the variant
    this.remark([depth === 0 ? this.gate(when) : undefined, ORDERS[order]], depth)
    turns.forEach(({ lines }, at) => {
      this.remark([`turn ${at + 1}`], depth + 1)
      for (const line of lines) this.line(line, address, depth + 1)
    })
  }

  private choice(choice: LinkedChoice): void {
    const { address, who, text, when, once, shownClosed, effects, cues, to } = choice
    const remarks = [
      this.gate(when)?.replace(/^when /, 'opens when '),
      when !== undefined && shownClosed ? 'shown while it is closed' : undefined,
      once ? 'once' : undefined,
      ...this.effects(effects),
      ...this.cues(cues),
    ].filter((one) => one !== undefined)
    const road = to.kind === 'road' ? this.destination(to.road) : undefined
    this.blocks.push({
      of: 'choice',
      key: `choice/${address}`,
      ...(who === undefined ? {} : { who: this.person(who) }),
      text: text.source,
      remarks,
      ...(road === undefined ? {} : { to: road }),
    })
    if (to.kind === 'rules')
      for (const rule of to.rules)
        this.remark([this.gate(rule.when), ...this.effects(rule.effects), 'goes on'], 1, this.destination(rule.to))
  }

  private remark(parts: readonly (string | undefined)[], depth: number, to?: Destination): void {
    const text = parts.filter((part) => part !== undefined).join(', ')
    this.blocks.push({ of: 'remark', text, depth, ...(to === undefined ? {} : { to }) })
  }

  private gate(when: Condition | undefined): string | undefined {
    if (when === undefined) return undefined
    return `when ${when.expr === undefined ? when.source : sayCondition(when.expr, this.names)}`
  }

  private effects(effects: readonly LinkedEffect[]): string[] {
    return effects.map(({ effect }) => sayEffect(effect, this.names))
  }

  private cues(cues: readonly LinkedCue[]): string[] {
    return cues.map(
      ({ cue, with: more }) => `cue ${this.story.cues.get(cue) ?? cue}${more === undefined ? '' : `: ${more}`}`,
    )
  }

  private person(id: string): string {
    return this.story.people.get(id)?.name ?? id
  }

  private destination(road: Road): Destination | undefined {
    if (road.kind === 'nowhere') return undefined
    if (road.kind === 'return') return { title: BACK, address: 'return' }
    const { address } = this.story.beats[road.beat]!
    return { title: this.titleOf(address), address }
  }

  private titleOf(address: string): string {
    return this.docs.get(address)?.title ?? plainId(address.slice(address.indexOf('.') + 1))
  }
}
