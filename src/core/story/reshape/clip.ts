import { beatOf, inBeat, parseAddress } from '../../base/address'
import * as z from 'zod'
import { freshId } from '../../base/ids'
import { fail, ok, type Result } from '../../base/result'
import type { Change } from '../changes/types'
import { Rewriter } from '../rename/rewrite'
import { itemSchemas } from '../schema'
import {
  withPlainLines,
  type Beat,
  type Cue,
  type Ending,
  type Entry,
  type Person,
  type Quest,
  type Story,
} from '../types'
import { namesIn, namesInText, namesOfPeople } from './names-in'

/** Beats on the clipboard, with what they need to be understood elsewhere. */
export interface Clip {
  readonly paperCompassBeats: 1
  readonly beats: readonly { readonly scene: string; readonly beat: Beat }[]
  readonly cast: readonly Person[]
  readonly cues: readonly Cue[]
  readonly ledger: readonly Entry[]
  readonly quests: readonly Quest[]
  readonly endings: readonly Ending[]
}

const clipSchema = z.object({
  paperCompassBeats: z.literal(1),
  beats: z.array(z.object({ scene: z.string(), beat: itemSchemas.beats })).min(1),
  cast: z.array(itemSchemas.cast),
  cues: z.array(itemSchemas.cues).default([]),
  ledger: z.array(itemSchemas.ledger),
  quests: z.array(itemSchemas.quests),
  endings: z.array(itemSchemas.endings),
})

export function clipBeats(story: Story, addresses: readonly string[]): Clip {
  const wanted = new Set(addresses)
  const beats = story.scenes.flatMap((scene) =>
    scene.beats.filter((beat) => wanted.has(`${scene.id}.${beat.id}`)).map((beat) => ({ scene: scene.id, beat })),
  )
  const names = beats.map(({ beat }) => namesIn(beat))
  const needed = <T extends { readonly id: string }>(
    list: readonly T[] | undefined,
    of: 'people' | 'endings' | 'cues',
  ) => (list ?? []).filter(({ id }) => names.some((one) => one[of].has(id)))
  const entries = [...(story.ledger ?? []), ...story.scenes.flatMap(({ ledger }) => ledger ?? [])]
  const cast = needed(story.cast, 'people')
  // what people are called may ask for more
  const asked = namesOfPeople(cast)
  const named = namedByJournals(story, new Set([...asked.quests, ...names.flatMap(({ quests }) => [...quests])]))
  return {
    paperCompassBeats: 1,
    beats,
    cast,
    cues: needed(story.cues, 'cues'),
    ledger: entries.filter(
      ({ id }) => named.entries.has(id) || asked.entries.has(id) || names.some((one) => one.entries.has(id)),
    ),
    quests: (story.quests ?? []).filter(({ id }) => named.quests.has(id)),
    endings: needed(story.endings, 'endings'),
  }
}

/** The quests, with those that the journal names at their stages, and the entries that it reads there. */
function namedByJournals(story: Story, quests: Set<string>): { quests: Set<string>; entries: Set<string> } {
  const entries = new Set<string>()
  const waiting = [...quests]
  for (let id = waiting.pop(); id !== undefined; id = waiting.pop()) {
    const quest = story.quests?.find((one) => one.id === id)
    for (const { journal = '' } of quest?.stages ?? [])
      for (const { of, id: named } of namesInText(journal)) {
        if (of === 'entry') entries.add(named)
        else if (of === 'quest' && !quests.has(named)) {
          quests.add(named)
          waiting.push(named)
        }
      }
  }
  return { quests, entries }
}

/** Text from the clipboard as beats; undefined when it is something else. */
export function readClip(text: string): Result<Clip> | undefined {
  if (!text.includes('"paperCompassBeats"')) return undefined
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    return undefined
  }
  const clip = clipSchema.safeParse(json)
  return clip.success ? ok(clip.data as unknown as Clip) : fail('what was copied can not be read as beats')
}

/**
 * One change that puts copied beats into a scene. Their ids stay where they are free; roads among
 * them follow; what they need and this story does not have comes with them; a road to a beat that
 * does not exist here is left open.
 */
export function pasteClip(
  story: Story,
  clip: Clip,
  scene: string,
  at: number,
  /** Names the lines of copies anew. */
  newLineId?: () => string,
): Result<{ readonly change: Change; readonly addresses: readonly string[] }> {
  const target = story.scenes.find(({ id }) => id === scene)
  if (target === undefined) return fail('the scene is not there any more')
  const taken = new Set(target.beats.map(({ id }) => id))
  const moved = new Map<string, string>()
  const ids = clip.beats.map(({ scene: from, beat }) => {
    const id = freshId(beat.id, (one) => taken.has(one))
    taken.add(id)
    moved.set(`${from}.${beat.id}`, `${scene}.${id}`)
    return id
  })
  const exists = new Set(story.scenes.flatMap(({ id, beats }) => beats.map((beat) => `${id}.${beat.id}`)))
  const follow = (address: string): string => {
    const to = parseAddress(moved.get(beatOf(address) ?? '') ?? '')
    return to === undefined ? address : inBeat(address, { scene: to.scene, beat: to.beat })
  }
  const rewriter = new Rewriter({ address: follow })
  const road = (to: string) =>
    to === '' || to === 'return' || exists.has(to) || [...moved.values()].includes(to) ? to : ''
  // what was cut keeps the names of its lines
  const isCopy = (index: number) => exists.has(`${clip.beats[index]!.scene}.${clip.beats[index]!.beat.id}`)
  const items = clip.beats.map(({ beat }, index): Beat =>
    openRoads({ ...withLineIds(rewriter.beat(beat), isCopy(index) ? newLineId : undefined), id: ids[index]! }, road),
  )
  const entries = new Set(
    [...(story.ledger ?? []), ...story.scenes.flatMap(({ ledger }) => ledger ?? [])].map(({ id }) => id),
  )
  const missing = <T extends { readonly id: string }>(list: readonly T[], has: (id: string) => boolean) =>
    list.filter(({ id }) => !has(id))
  const inList = (list: readonly { readonly id: string }[] | undefined) => (id: string) =>
    list?.some((one) => one.id === id) ?? false
  const add = (
    list: 'cast' | 'cues' | 'ledger' | 'quests' | 'endings',
    wanted: readonly (Person | Cue | Entry | Quest | Ending)[],
  ): Change[] =>
    wanted.map((item, index) => ({ op: 'insert', in: { list }, at: (story[list]?.length ?? 0) + index, item }))
  return ok({
    addresses: ids.map((id) => `${scene}.${id}`),
    change: {
      op: 'batch',
      changes: [
        ...add('cast', missing(clip.cast, inList(story.cast))),
        ...add('cues', missing(clip.cues, inList(story.cues))),
        ...add(
          'ledger',
          missing(clip.ledger, (id) => entries.has(id)),
        ),
        ...add('quests', missing(clip.quests, inList(story.quests))),
        ...add('endings', missing(clip.endings, inList(story.endings))),
        ...items.map((item, index): Change => ({ op: 'insert', in: { list: 'beats', scene }, at: at + index, item })),
      ],
    },
  })
}

function withLineIds(beat: Beat, newLineId: (() => string) | undefined): Beat {
  if (newLineId === undefined || beat.lines === undefined) return beat
  const lines = beat.lines.map((line) =>
    withPlainLines(line, (plain) => (plain.id === undefined ? plain : { ...plain, id: newLineId() })),
  )
  return { ...beat, lines }
}

function openRoads(beat: Beat, road: (to: string) => string): Beat {
  const rules = <T extends { to: string }>(list: readonly T[]) => list.map((rule) => ({ ...rule, to: road(rule.to) }))
  return {
    ...beat,
    ...(beat.redirects === undefined ? {} : { redirects: rules(beat.redirects) }),
    ...(beat.onward === undefined ? {} : { onward: rules(beat.onward) }),
    ...(beat.choices === undefined
      ? {}
      : {
          choices: beat.choices.map((choice) => ({
            ...choice,
            to: typeof choice.to === 'string' ? road(choice.to) : rules(choice.to),
          })),
        }),
  }
}
