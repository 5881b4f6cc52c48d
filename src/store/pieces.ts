import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing'
import { LISTS, SCENE_LISTS, STORY_LISTS, type ListName } from '../core/story/changes/lists'
import { inOneGo, type Slices } from '../core/base/slices'
import type { Scene, Story } from '../core/story/types'
import { HeldTexts, textlessLanguages, withTexts, type HeldText } from './held-texts'

/** One piece of a story: its own keys, an item of one of its lists, a scene, or a text in another language; what lies in lists of it stands beside it. */
export interface Piece {
  /** Names the piece in its story through all its versions; 0: the story's own keys. */
  readonly key: number
  readonly list: PieceList
  /** Key of the scene that it lies in. */
  readonly scene: number | null
  /** Orders the pieces of one list. */
  readonly place: string
  /** JSON text. */
  readonly body: string
}

export type PieceList = ListName | 'story' | 'texts'

/** What a step from one story to the next does to its pieces. */
export interface PieceStep {
  readonly ended: readonly number[]
  readonly begun: readonly Piece[]
  /** To be called when the step is on disk. */
  keep(): void
}

interface Known {
  readonly key: number
  readonly place: string
}

/** Pieces that are read before others get their turn. */
const PIECES_AT_ONCE = 1_000

interface Composed {
  readonly story: Story
  readonly keys: PieceKeys
}

/** Longest place before a list is numbered anew. */
const PLACE_MAX = 120

/**
 * Which piece each object of a story is. Stories share what they have in common, so an object that stands in both is the
 * same piece, and what an edit does to the pieces is found by comparing references.
 */
export class PieceKeys {
  private known = new WeakMap<object, Known>()
  private readonly texts = new HeldTexts()
  /** The story's own keys hold texts in other languages, as they once did: those become pieces at the next step. */
  private holdsTexts = false

  constructor(private nextKey = 1) {}

  /** All pieces of a story that has none yet. */
  first(story: Story): PieceStep {
    return this.step(undefined, story)
  }

  step(before: Story | undefined, after: Story): PieceStep {
    const ended: number[] = []
    const begun: Piece[] = []
    const learnt: [object, Known][] = []
    const header = headerOf(after)
    const { holdsTexts } = this
    if (before === undefined || holdsTexts || headerOf(before) !== header) {
      if (before !== undefined) ended.push(0)
      begun.push({ key: 0, list: 'story', scene: null, place: '', body: header })
    }
    for (const list of STORY_LISTS) {
      if (list !== 'scenes') this.stepList(list, null, before?.[list], after[list], ended, begun, learnt)
    }
    if (holdsTexts || before?.languages !== after.languages)
      this.stepList(
        'texts',
        null,
        holdsTexts ? [] : this.texts.of(before?.languages),
        this.texts.of(after.languages),
        ended,
        begun,
        learnt,
      )
    const scenes = this.stepList('scenes', null, before?.scenes, after.scenes, ended, begun, learnt)
    for (const [scene, key, old] of scenes.kept) {
      for (const list of SCENE_LISTS)
        this.stepList(list, key, old && itemsOf(old, list), itemsOf(scene, list), ended, begun, learnt)
    }
    for (const old of scenes.gone)
      for (const list of SCENE_LISTS) for (const item of itemsOf(old, list) ?? []) ended.push(this.known.get(item)!.key)
    return {
      ended,
      begun,
      keep: () => {
        for (const [object, known] of learnt) this.known.set(object, known)
        this.holdsTexts = false
      },
    }
  }

  private stepList(
    list: Exclude<PieceList, 'story'>,
    scene: number | null,
    before: readonly object[] = [],
    after: readonly object[] = [],
    ended: number[],
    begun: Piece[],
    learnt: [object, Known][],
  ): { kept: [Scene, number, Scene | undefined][]; gone: Scene[] } {
    const kept: [Scene, number, Scene | undefined][] = []
    const isScenes = list === 'scenes'
    if (before === after && !isScenes) return { kept, gone: [] }
    let start = 0
    while (start < before.length && before[start] === after[start]) start += 1
    let end = 0
    while (
      end < Math.min(before.length, after.length) - start &&
      before[before.length - 1 - end] === after[after.length - 1 - end]
    )
      end += 1
    const gone = new Set(before.slice(start, before.length - end))
    const come = after.slice(start, after.length - end)
    const partners = pairUp(gone, come)
    // places of those that stay in their order are kept
    const places = this.placesOf(come, partners, before[start - 1], before[before.length - end])
    const renewed = places.some((place) => place.length > PLACE_MAX)
    const put = (item: object, known: Known, isNew: boolean, isChanged: boolean) => {
      learnt.push([item, known])
      if (!isNew && !isChanged) return
      if (!isNew) ended.push(known.key)
      begun.push({
        key: known.key,
        list,
        scene,
        place: known.place,
        body: isScenes ? bodyOf(item, SCENE_KEYS) : JSON.stringify(item),
      })
    }
    const fresh = renewed ? generateNKeysBetween(null, null, after.length) : undefined
    if (fresh !== undefined)
      for (const [at, item] of after.entries()) {
        if (at >= start && at < after.length - end) continue
        put(item, { key: this.known.get(item)!.key, place: fresh[at]! }, false, true)
      }
    for (const [index, item] of come.entries()) {
      const partner = partners[index]
      const old = partner === undefined ? undefined : this.known.get(partner)!
      const place = fresh?.[start + index] ?? places[index]!
      const key = old?.key ?? this.nextKey++
      const isSameBody =
        partner === item ||
        (isScenes && partner !== undefined && bodyOf(partner, SCENE_KEYS) === bodyOf(item, SCENE_KEYS))
      put(item, { key, place }, old === undefined, !isSameBody || old?.place !== place)
      if (partner !== undefined) gone.delete(partner)
      if (isScenes) kept.push([item as Scene, key, partner as Scene | undefined])
    }
    for (const item of gone) ended.push(this.known.get(item)!.key)
    return { kept, gone: isScenes ? ([...gone] as Scene[]) : [] }
  }

  /** A place for each item of a list that has changed between two that have not. */
  private placesOf(
    come: readonly object[],
    partners: readonly (object | undefined)[],
    before: object | undefined,
    after: object | undefined,
  ): string[] {
    const low = before === undefined ? null : this.known.get(before)!.place
    const high = after === undefined ? null : this.known.get(after)!.place
    const held = partners.map((partner) => (partner === undefined ? undefined : this.known.get(partner)!.place))
    const keeps = increasing(held, low, high)
    const places: string[] = []
    for (let at = 0; at < come.length;) {
      if (keeps[at]) {
        places.push(held[at++]!)
        continue
      }
      let next = at
      while (next < come.length && !keeps[next]) next += 1
      const from = places.at(-1) ?? low
      const to = next < come.length ? held[next]! : high
      places.push(...(next - at === 1 ? [generateKeyBetween(from, to)] : generateNKeysBetween(from, to, next - at)))
      at = next
    }
    return places
  }

  /**
   * The story that follows where rows say what ended and what began; whatever it shares with the one before is the same
   * objects.
   */
  take(before: Story, ended: readonly Piece[], begun: readonly Piece[]): Story {
    const gone = new Set(ended.map(({ key }) => key))
    const come = new Map<string, Piece[]>()
    for (const { list, scene } of ended) come.set(listName(list, scene), [])
    for (const piece of begun) {
      this.nextKey = Math.max(this.nextKey, piece.key + 1)
      const name = listName(piece.list, piece.scene)
      come.set(name, [...(come.get(name) ?? []), piece])
    }
    const merge = <T extends object>(
      list: PieceList,
      scene: number | null,
      old: readonly T[],
      made: (piece: Piece) => T,
    ): readonly T[] => {
      const fresh = come.get(listName(list, scene))
      if (fresh === undefined) return old
      const kept = old.filter((item) => !gone.has(this.known.get(item)!.key))
      const items = fresh.map((piece) => {
        const item = made(piece)
        this.known.set(item, { key: piece.key, place: piece.place })
        return item
      })
      return [...kept, ...items].sort((a, b) => (this.known.get(a)!.place < this.known.get(b)!.place ? -1 : 1))
    }
    const read = ({ body }: Piece) => JSON.parse(body) as Record<string, unknown>
    const header = come.get(listName('story', null))?.[0]
    const story: Record<string, unknown> = header === undefined ? { ...before } : read(header)
    for (const list of STORY_LISTS) {
      if (list === 'scenes') continue
      const items = merge<object>(list, null, before[list] ?? [], read)
      if (items.length > 0 || story[list] !== undefined) story[list] = items
    }
    const scenes = new Map(before.scenes.map((scene) => [this.known.get(scene)!.key, scene]))
    const withLists = (scene: Record<string, unknown>, key: number, old: Scene | undefined) => {
      for (const list of SCENE_LISTS) {
        const items = merge<object>(list, key, (old && itemsOf(old, list)) ?? [], read)
        if (items.length > 0 || scene[LISTS[list].key] !== undefined) scene[LISTS[list].key] = items
      }
      return scene as unknown as Scene
    }
    story.scenes = merge('scenes', null, before.scenes, (piece) =>
      withLists(read(piece), piece.key, scenes.get(piece.key)),
    ).map((scene) => {
      const known = this.known.get(scene)!
      const isSame = scenes.get(known.key) === scene
      if (!isSame || SCENE_LISTS.every((list) => !come.has(listName(list, known.key)))) return scene
      const made = withLists({ ...scene }, known.key, scene)
      this.known.set(made, known)
      return made
    })
    const texts = this.holdsTexts ? [] : this.texts.of(before.languages)
    const textsNext = merge('texts', null, texts, ({ body }) => this.texts.holding(JSON.parse(body) as HeldText))
    this.holdsTexts &&= header === undefined
    const made = story as unknown as Story
    const isKept = textsNext === texts && header === undefined
    return isKept || textsNext.length === 0 ? made : withTexts(made, textsNext)
  }

  /** Takes over what rows say; gives the story that they make up. */
  static compose(pieces: readonly Piece[], nextKey = 1): Composed {
    return inOneGo(PieceKeys.composing(pieces, nextKey))
  }

  /** The same bit by bit. */
  static *composing(pieces: readonly Piece[], nextKey = 1): Slices<Composed> {
    const keys = new PieceKeys(nextKey)
    const lists = new Map<string, Piece[]>()
    let header: Record<string, unknown> | undefined
    for (const piece of pieces) {
      keys.nextKey = Math.max(keys.nextKey, piece.key + 1)
      if (piece.list === 'story') {
        header = JSON.parse(piece.body) as Record<string, unknown>
        continue
      }
      const name = listName(piece.list, piece.scene)
      const list = lists.get(name)
      if (list === undefined) lists.set(name, [piece])
      else list.push(piece)
    }
    if (header === undefined) throw new Error('the story has lost its own keys')
    function* fill(list: ListName, scene: number | null): Slices<object[] | undefined> {
      const found = lists.get(listName(list, scene))
      if (found === undefined) return undefined
      found.sort((a, b) => (a.place < b.place ? -1 : 1))
      const filled: object[] = []
      for (const piece of found) {
        const item = JSON.parse(piece.body) as Record<string, unknown>
        keys.known.set(item, { key: piece.key, place: piece.place })
        if (list === 'scenes')
          for (const inner of SCENE_LISTS) {
            const items = yield* fill(inner, piece.key)
            if (items !== undefined) item[LISTS[inner].key] = items
          }
        filled.push(item)
        if (filled.length % PIECES_AT_ONCE === 0) yield
      }
      return filled
    }
    for (const list of STORY_LISTS) {
      const items = yield* fill(list, null)
      if (items !== undefined) header[list] = items
    }
    const story = header as unknown as Story
    keys.holdsTexts = textlessLanguages(story.languages) !== story.languages
    const texts = lists.get(listName('texts', null))
    if (texts === undefined) return { story, keys }
    texts.sort((a, b) => (a.place < b.place ? -1 : 1))
    const held: HeldText[] = []
    for (const piece of texts) {
      const text = keys.texts.holding(JSON.parse(piece.body) as HeldText)
      keys.known.set(text, { key: piece.key, place: piece.place })
      held.push(text)
      if (held.length % PIECES_AT_ONCE === 0) yield
    }
    return { story: withTexts(story, held), keys }
  }
}

function listName(list: PieceList, scene: number | null): string {
  return `${list} ${scene ?? ''}`
}

const STORY_KEYS: ReadonlySet<string> = new Set(STORY_LISTS)
const SCENE_KEYS: ReadonlySet<string> = new Set(SCENE_LISTS.map((list) => LISTS[list].key))

/** The text of a story's own keys, without its lists and its texts in other languages. */
function headerOf(story: Story): string {
  return bodyOf({ ...story, ...(story.languages && { languages: textlessLanguages(story.languages) }) }, STORY_KEYS)
}

/** The text of a story's or scene's own keys; its lists are empty in it, where they are. */
function bodyOf(object: object, lists: ReadonlySet<string>): string {
  return JSON.stringify(
    Object.fromEntries(
      Object.entries(object).map(([key, value]): [string, unknown] => [
        key,
        lists.has(key) && Array.isArray(value) ? [] : value,
      ]),
    ),
  )
}

function itemsOf(scene: Scene, list: (typeof SCENE_LISTS)[number]): readonly object[] | undefined {
  return scene[LISTS[list].key]
}

/** For each item the one that it was: itself, or one of those that went with its id, else with its lists. */
function pairUp(gone: ReadonlySet<object>, come: readonly object[]): (object | undefined)[] {
  const free = new Set(gone)
  const partners = new Array<object | undefined>(come.length)
  for (const [index, item] of come.entries()) if (free.delete(item)) partners[index] = item
  const byId = new Map<unknown, object[]>()
  for (const item of free) {
    const { id } = item as { id?: unknown }
    byId.set(id, [...(byId.get(id) ?? []), item])
  }
  const byBeats = new Map<unknown, object>()
  for (const item of free) if ('beats' in item) byBeats.set(item.beats, item)
  const take = (index: number, item: object | undefined) => {
    if (item === undefined || !free.delete(item)) return
    partners[index] = item
  }
  for (const [index, item] of come.entries()) {
    if (partners[index] === undefined)
      take(
        index,
        byId.get((item as { id?: unknown }).id)?.find((one) => free.has(one)),
      )
  }
  for (const [index, item] of come.entries())
    if (partners[index] === undefined && 'beats' in item) take(index, byBeats.get(item.beats))
  return partners
}

/** Which of the places may stay, so that they go up between two limits: a longest such choice (patience sorting). */
function increasing(places: readonly (string | undefined)[], low: string | null, high: string | null): boolean[] {
  const keeps = new Array<boolean>(places.length).fill(false)
  const tails: number[] = []
  const previous = new Int32Array(places.length).fill(-1)
  for (const [at, place] of places.entries()) {
    if (place === undefined || (low !== null && place <= low) || (high !== null && place >= high)) continue
    let from = 0
    let to = tails.length
    while (from < to) {
      const middle = (from + to) >> 1
      if (places[tails[middle]!]! < place) from = middle + 1
      else to = middle
    }
    if (from > 0) previous[at] = tails[from - 1]!
    tails[from] = at
  }
  for (let at = tails.at(-1) ?? -1; at !== -1; at = previous[at]!) keeps[at] = true
  return keeps
}
