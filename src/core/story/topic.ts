import { beatOf, inBeat, parseAddress, printAddress, type Address, type Step } from '../base/address'
import { isSame } from '../base/same'
import { beatAt, choiceAt } from './beat-at'
import { counterparts } from './changes/merge'
import { plainLinesIn, type Beat, type Line, type Scene, type Story } from './types'

/**
 * What is talked about in a story, as text: `at quay.morning#line2` (a beat, a row of it, a choice), `scene quay`,
 * `entry tide`, `quest mill`, `person odile`, `ending home`, or a finding by its kind and key, `finding dead-end quay.morning`.
 */
export const TOPICS = ['at', 'scene', 'entry', 'quest', 'person', 'ending', 'finding'] as const
export type TopicKind = (typeof TOPICS)[number]

export interface Topic {
  readonly of: TopicKind
  /** An address or id; of a finding its kind and key. */
  readonly names: readonly string[]
}

/** Undefined where the text names nothing that can be talked about. */
export function parseTopic(text: string): Topic | undefined {
  const [of, ...names] = text.split(' ')
  const kind = TOPICS.find((one) => one === of)
  if (kind === undefined || names.some((name) => name === '') || names.length === 0) return undefined
  if (kind === 'at' && parseAddress(names[0]!) === undefined) return undefined
  return kind === 'finding' || names.length === 1 ? { of: kind, names } : undefined
}

export function printTopic({ of, names }: Topic): string {
  return [of, ...names].join(' ')
}

/** What is talked about, and, where a row of it is gone, which one and what it said, in case it comes back. */
export interface Followed {
  readonly topic: string
  readonly lost?: { readonly topic: string; readonly text: string } | undefined
}

/**
 * What is talked about after a change of the story: followed through renames and moves. A row that is gone leaves its beat, until
 * one that says the same is there again; what has a name keeps it, whether it is there or not.
 */
export function followTalk(before: Story, after: Story, { topic, lost }: Followed): Followed {
  if (before === after) return { topic, lost }
  if (lost !== undefined) {
    // its number may be another row's by now: only its beat is followed
    const beat = followTopic(before, after, topic) ?? topic
    const to = parseAddress(beat.slice(3))
    const there =
      to === undefined ? lost.topic : `at ${inBeat(lost.topic.slice(3), { scene: to.scene, beat: to.beat })}`
    return textAt(after, there) === lost.text ? { topic: there } : { topic: beat, lost: { ...lost, topic: there } }
  }
  const now = followTopic(before, after, topic)
  if (now !== undefined) return { topic: now }
  const beat = `at ${beatOf(topic.slice(3))}`
  return { topic: followTopic(before, after, beat) ?? beat, lost: { topic, text: textAt(before, topic) ?? '' } }
}

/** What may be told of a beat, a choice or a row. */
interface WrittenPart {
  readonly id?: string
  readonly text?: string
}

/** The beat, choice or row that a topic names; undefined where there is none. */
export function partAt(story: Story, topic: string): WrittenPart | undefined {
  const name = topic.slice(3)
  const address = parseAddress(name)
  let part: unknown = address?.choice === undefined ? beatAt(story, name) : choiceAt(story, name)
  for (const { of, number } of address?.steps ?? [])
    part = part === undefined ? undefined : listIn(part, of)[number - 1]
  return part as WrittenPart | undefined
}

/** What a row of a beat says; undefined where there is none. */
function textAt(story: Story, topic: string): string | undefined {
  return partAt(story, topic)?.text
}

/** What a topic is called after a change; undefined where a row that is known by its number is gone. */
function followTopic(before: Story, after: Story, text: string): string | undefined {
  const topic = parseTopic(text)
  if (topic === undefined) return text
  const { of, names } = topic
  if (of === 'at') {
    const address = followAddress(before, after, names[0]!)
    return address && `at ${address}`
  }
  if (of === 'finding') {
    const key = names.slice(1).map((name) => followAddress(before, after, name) ?? name)
    return printTopic({ of, names: [names[0]!, ...key] })
  }
  return `${of} ${renamed(listOf(before, of), listOf(after, of), names[0]!) ?? names[0]!}`
}

type Named = { readonly id: string }

function listOf(story: Story, of: Exclude<TopicKind, 'at' | 'finding'>): readonly Named[] {
  if (of === 'scene') return story.scenes
  if (of === 'entry') return [...(story.ledger ?? []), ...story.scenes.flatMap(({ ledger = [] }) => ledger)]
  return (of === 'quest' ? story.quests : of === 'person' ? story.cast : story.endings) ?? []
}

/** The new id of an item: its own while there is one with it; else of the new one that is like it, or stands where it stood. */
function renamed(was: readonly Named[], is: readonly Named[], id: string): string | undefined {
  if (is.some((one) => one.id === id)) return id
  const at = was.findIndex((one) => one.id === id)
  if (at === -1) return undefined
  const known = new Set(was.map((one) => one.id))
  const come = is.filter((one) => !known.has(one.id))
  const like = come.find((one) => isSame({ ...one, id }, was[at]))
  const there = was.length === is.length ? come.find((one) => one === is[at]) : undefined
  return (like ?? there)?.id
}

/** Where what an address names stands after a change; undefined where a row is gone. */
function followAddress(before: Story, after: Story, text: string): string | undefined {
  const address = parseAddress(text)
  const old = address && beatAt(before, text)
  if (address === undefined || old === undefined) return text
  const beat = followBeat(before, after, address.scene, old)
  if (beat !== undefined) {
    const inside = followInside(old, beat.beat, address)
    if (inside !== undefined) return printAddress({ ...inside, scene: beat.scene, beat: beat.beat.id })
  }
  return (
    movedElsewhere(before, after, old, address) ?? (address.steps.length === 0 || beat === undefined ? text : undefined)
  )
}

interface Place {
  readonly scene: string
  readonly beat: Beat
}

function followBeat(before: Story, after: Story, scene: string, old: Beat): Place | undefined {
  const there = renamedScene(before, after, scene)
  const same = there?.beats.find(({ id }) => id === old.id)
  const own = there !== undefined && same !== undefined ? { scene: there.id, beat: same } : undefined
  if (own !== undefined && isAlike(own.beat, old)) return own
  const come = newBeats(before, after)
  const like =
    come.find(({ beat }) => isSame({ ...beat, id: '' }, { ...old, id: '' })) ??
    come.find(({ beat }) => isAlike(beat, old)) ??
    come.find(({ beat }) => beat.id === old.id)
  if (like !== undefined || own !== undefined) return like ?? own
  // one that was renamed and changed at once stands where it stood
  const was = before.scenes.find(({ id }) => id === scene)!.beats
  if (there === undefined || there.beats.length !== was.length) return undefined
  const at = there.beats[was.indexOf(old)]!
  return come.some(({ beat }) => beat === at) ? { scene: there.id, beat: at } : undefined
}

/** Whether a beat has kept something by which it is known: its title, or what it says. */
function isAlike(one: Beat, other: Beat): boolean {
  if (one === other || (one.title !== undefined && one.title === other.title)) return true
  return [one.lines ?? [], one.choices ?? []].some((list: readonly unknown[], at) =>
    list.some((item) => [other.lines ?? [], other.choices ?? []][at]!.some((was) => isLike(item, was))),
  )
}

function renamedScene(before: Story, after: Story, id: string): Scene | undefined {
  const own = after.scenes.find((scene) => scene.id === id)
  if (own !== undefined) return own
  const known = new Set(before.scenes.map((scene) => scene.id))
  const ids = new Set(before.scenes.find((scene) => scene.id === id)?.beats.map((beat) => beat.id))
  const shared = (scene: Scene) => scene.beats.filter((beat) => ids.has(beat.id)).length
  return after.scenes
    .filter((scene) => !known.has(scene.id) && shared(scene) > 0)
    .sort((a, b) => shared(b) - shared(a))[0]
}

/** Beats at addresses at which there was none. */
function newBeats(before: Story, after: Story): Place[] {
  const known = new Set(before.scenes.flatMap(({ id, beats }) => beats.map((beat) => `${id}.${beat.id}`)))
  return after.scenes.flatMap(({ id, beats }) =>
    beats.filter((beat) => !known.has(`${id}.${beat.id}`)).map((beat) => ({ scene: id, beat })),
  )
}

type Part = Readonly<Record<string, unknown>>
const LIST: Readonly<Record<Step['of'], string>> = {
  line: 'lines',
  redirect: 'redirects',
  arrive: 'arrive',
  onward: 'onward',
  variant: 'firstOf',
  turn: 'inTurn',
  rule: 'to',
}

function listIn(part: unknown, of: Step['of']): readonly unknown[] {
  const list = (part as Part)[LIST[of]]
  return Array.isArray(list) ? list : []
}

/** The same part of a beat that was changed; undefined where it is gone. */
function followInside(old: Beat, next: Beat, address: Address): Address | undefined {
  let [was, is]: [unknown, unknown] = [old, next]
  let { choice } = address
  if (choice !== undefined) {
    const [mine, theirs] = [old.choices ?? [], next.choices ?? []]
    choice = renamed(mine, theirs, choice)
    if (choice === undefined) return undefined
    was = mine.find(({ id }) => id === address.choice)
    is = theirs.find(({ id }) => id === choice)
  }
  const steps: Step[] = []
  for (const { of, number } of address.steps) {
    if (was === undefined || is === undefined) return undefined
    const [mine, theirs] = [listIn(was, of), listIn(is, of)]
    const to = mine === theirs ? number - 1 : followItem(mine, theirs, number - 1)
    if (to === -1) return undefined
    steps.push({ of, number: to + 1 })
    was = mine[number - 1]
    is = theirs[to]
  }
  return { ...address, ...(choice === undefined ? {} : { choice }), steps }
}

/** Whether two lines or choices are the same one: what they name may be called otherwise since. */
function isLike(one: unknown, other: unknown): boolean {
  return isSame(one, other) || (textsOf(one) !== '' && textsOf(one) === textsOf(other))
}

/** All that is read in a line, with what its variants or turns say, or on a choice. */
function textsOf(part: unknown): string {
  const { text } = part as { text?: string }
  if (text !== undefined) return text
  return plainLinesIn(part as Line)
    .map(({ line }) => line.text)
    .join('\n')
}

/** Where an item of a list stands in what became of it: the only one that is like it, else by what stands around it. */
function followItem(mine: readonly unknown[], theirs: readonly unknown[], at: number): number {
  const item = mine[at]
  if (item === undefined) return -1
  const like = (list: readonly unknown[]) => list.flatMap((one, to) => (isLike(one, item) ? [to] : []))
  const there = like(theirs)
  return there.length === 1 && like(mine).length === 1 ? there[0]! : (counterparts(mine, theirs)[at] ?? -1)
}

/** Where a line or choice of a beat went that is not in it any more: to another beat that was changed, as it was. */
function movedElsewhere(before: Story, after: Story, old: Beat, { choice, steps }: Address): string | undefined {
  const [first, ...rest] = steps
  if (choice === undefined && first?.of !== 'line') return undefined
  const item =
    choice === undefined ? listIn(old, 'line')[first!.number - 1] : old.choices?.find(({ id }) => id === choice)
  if (item === undefined) return undefined
  for (const { id: scene, beats } of after.scenes)
    for (const beat of beats) {
      const was = beatAt(before, `${scene}.${beat.id}`)
      if (was === beat) continue
      const list: readonly unknown[] = (choice === undefined ? beat.lines : beat.choices) ?? []
      const had: readonly unknown[] = (choice === undefined ? was?.lines : was?.choices) ?? []
      const at = list.findIndex((one) => isLike(one, item) && (was === old || !had.some((other) => isLike(other, one))))
      if (at === -1) continue
      const place = { scene, beat: beat.id }
      return choice === undefined
        ? printAddress({ ...place, steps: [{ of: 'line', number: at + 1 }, ...rest] })
        : printAddress({ ...place, choice, steps })
    }
  return undefined
}
