import { focusSoon } from '../../../ui/named-fields'
import { freshId } from '../../../core/base/ids'
import { toFlowOrder } from '../../../core/story/reshape/flow-order'
import { joinBeats, splitBeat } from '../../../core/story/reshape/split-join'
import {
  isGroup,
  isInTurn,
  isPlain,
  type PlainLine,
  type Rule,
  type Turn,
  type VariantGroup,
} from '../../../core/story/types'
import type { StorySession } from '../../../session/story-session'
import { newLine } from '../../../session/new-line'
import { insertAt, mayChoose, newChoice, replaceAt, withKeys } from '../../../core/story/reshape/beat-edits'
import { editBeat, fieldOf, turnsName, type BeatRef, type LinePath } from '../manuscript/edit-beat'

/** What the keys and the words under a beat add to it. */

export function addLine(session: StorySession, ref: BeatRef): void {
  let at = 0
  editBeat(session, ref, (beat) => {
    at = beat.lines?.length ?? 0
    return { ...beat, lines: [...(beat.lines ?? []), newLine()] }
  })
  focusSoon(fieldOf(ref, `#line${at + 1}`))
}

export function addVariants(session: StorySession, ref: BeatRef): void {
  let at = 0
  editBeat(session, ref, (beat) => {
    at = beat.lines?.length ?? 0
    return {
      ...beat,
      lines: [...(beat.lines ?? []), { firstOf: [{ lines: [newLine()] }, { lines: [newLine()] }] }],
    }
  })
  focusSoon(fieldOf(ref, `#line${at + 1}.variant1.line1`))
}

/** A choice at the end. A beat that ends or asks has none; it keeps what it is. */
export function addChoice(session: StorySession, ref: BeatRef, after?: number): void {
  let id: string | undefined
  editBeat(session, ref, (beat) => {
    if (!mayChoose(beat)) return undefined
    const choice = newChoice(beat)
    id = choice.id
    return {
      ...beat,
      choices: insertAt(beat.choices, after === undefined ? (beat.choices?.length ?? 0) : after + 1, choice),
    }
  })
  if (id !== undefined) focusSoon(fieldOf(ref, `.${id}`))
}

/** A new beat behind another one, in the same scene. */
export function addBeatAfter(session: StorySession, { scene, id }: BeatRef): void {
  const beats = session.getState().story.scenes.find((one) => one.id === scene)?.beats ?? []
  const at = beats.findIndex((one) => one.id === id) + 1
  addBeat(session, scene, at)
}

export function addBeat(session: StorySession, scene: string, at: number): void {
  const beats = session.getState().story.scenes.find((one) => one.id === scene)?.beats ?? []
  const id = freshId('beat', (taken) => beats.some((one) => one.id === taken))
  session.edit({ op: 'insert', in: { list: 'beats', scene }, at, item: { id, lines: [newLine()] } })
  session.goTo(`${scene}.${id}`)
  focusSoon(fieldOf({ scene, id }, ':name'), 'all')
}

export function addScene(session: StorySession): void {
  const { scenes } = session.getState().story
  const id = freshId('scene', (taken) => scenes.some((one) => one.id === taken))
  session.edit({
    op: 'insert',
    in: { list: 'scenes' },
    at: scenes.length,
    item: { id, title: 'New scene', beats: [{ id: 'first', lines: [newLine()] }] },
  })
  session.goTo(`${id}.first`)
  focusSoon(`${id}:title`, 'all')
}

/** A new road comes before the one that always holds: behind it, it would never be taken. */
export function placeOfNew(rules: readonly Rule[] = []): number {
  const always = rules.findIndex(({ when, to }) => when === undefined && to !== '')
  return always === -1 ? rules.length : always
}

export function addOnward(session: StorySession, ref: BeatRef): void {
  let at = 0
  editBeat(session, ref, (beat) => {
    if (beat.ending !== undefined) return undefined
    at = placeOfNew(beat.onward)
    return { ...beat, onward: insertAt(beat.onward, at, { to: '' }) }
  })
  focusSoon(fieldOf(ref, `#onward${at + 1}>to`))
}

export function addRedirect(session: StorySession, ref: BeatRef): void {
  let at = 0
  editBeat(session, ref, (beat) => {
    at = placeOfNew(beat.redirects)
    return { ...beat, redirects: insertAt(beat.redirects, at, { to: '' }) }
  })
  focusSoon(fieldOf(ref, `#redirect${at + 1}>to`))
}

export function addArrival(session: StorySession, ref: BeatRef): void {
  editBeat(session, ref, (beat) => ({ ...beat, arrive: [...(beat.arrive ?? []), { do: [] }] }))
}

/** Makes the beat an ending: one that exists, or a new one of that name. Its choices and roads on must be gone. */
export function setEnding(session: StorySession, ref: BeatRef, ending: string | undefined, name?: string): void {
  const { story } = session.getState()
  const beats = story.scenes.find((one) => one.id === ref.scene)?.beats ?? []
  const at = beats.findIndex((one) => one.id === ref.id)
  const beat = beats[at]
  if (beat === undefined) return
  const item = withKeys(
    beat,
    ending === undefined ? { ending } : { ending, choices: undefined, onward: undefined, ask: undefined },
  )
  const replace = { op: 'replace', in: { list: 'beats', scene: ref.scene }, id: ref.id, at, item } as const
  if (name === undefined || ending === undefined) session.edit(replace)
  else
    session.edit({
      op: 'batch',
      changes: [
        { op: 'insert', in: { list: 'endings' }, at: story.endings?.length ?? 0, item: { id: ending, name } },
        replace,
      ],
    })
}

/** Puts the beats of the scene in the order in which the story comes to them. */
export function orderByFlow(session: StorySession): void {
  const { story, scene } = session.getState()
  const found = story.scenes.find(({ id }) => id === scene)
  const change = found && toFlowOrder(found)
  if (change === undefined) session.tell('The beats of this scene stand in the order in which the story comes to them.')
  else session.edit(change)
}

/** A line becomes the first of several variants; in a variant, one more is added. */
export function addVariantAt(session: StorySession, ref: BeatRef, path: LinePath): void {
  const { at } = path
  let variants = 2
  editBeat(session, ref, (beat) => {
    const line = beat.lines?.[at]
    if (line === undefined || isInTurn(line)) return undefined
    const group: VariantGroup = isGroup(line)
      ? { ...line, firstOf: [...line.firstOf, { lines: [newLine()] }] }
      : {
          firstOf: [
            { ...(line.when === undefined ? {} : { when: line.when }), lines: [withKeys(line, { when: undefined })] },
            { lines: [newLine()] },
          ],
        }
    variants = group.firstOf.length
    return { ...beat, lines: beat.lines!.map((one, index) => (index === at ? group : one)) }
  })
  focusSoon(fieldOf(ref, `#line${at + 1}.variant${variants}.line1`))
}

/** A line becomes the first of the turns that are taken; in a variant, all of its lines do. */
export function takeTurns(session: StorySession, ref: BeatRef, path: LinePath): void {
  const { at, variant } = path
  editBeat(session, ref, (beat) => {
    const line = beat.lines?.[at]
    if (line === undefined || isInTurn(line)) return undefined
    if (isPlain(line)) {
      const { when, ...rest } = line
      const group = { ...(when === undefined ? {} : { when }), inTurn: turnsFrom([rest]) }
      return { ...beat, lines: replaceAt(beat.lines, at, group) }
    }
    const firstOf = line.firstOf.map((one, index) =>
      index === variant && one.inTurn === undefined
        ? { ...withKeys(one, { lines: undefined }), inTurn: turnsFrom(one.lines ?? []) }
        : one,
    )
    return { ...beat, lines: replaceAt(beat.lines, at, { ...line, firstOf }) }
  })
  focusSoon(fieldOf(ref, `#${turnsName(path)}.turn2.line1`))
}

function turnsFrom(lines: PlainLine[]): Turn[] {
  return [{ lines }, { lines: [newLine()] }]
}

/** A group of lines that are taken in turn, at the end of the beat's lines. */
export function addTurns(session: StorySession, ref: BeatRef): void {
  let at = 0
  editBeat(session, ref, (beat) => {
    at = beat.lines?.length ?? 0
    return { ...beat, lines: [...(beat.lines ?? []), { inTurn: turnsFrom([newLine()]) }] }
  })
  focusSoon(fieldOf(ref, `#line${at + 1}.turn1.line1`))
}

/** Moves a beat one place up or down in its scene. */
export function moveBeatBy(session: StorySession, { scene, id }: BeatRef, by: 1 | -1): void {
  const beats = session.getState().story.scenes.find((one) => one.id === scene)?.beats ?? []
  const at = beats.findIndex((one) => one.id === id)
  if (at + by < 0 || at + by >= beats.length) return
  session.edit({ op: 'move', in: { list: 'beats', scene }, id, at, to: at + by })
  focusSoon(fieldOf({ scene, id }, ':name'))
}

/** Makes the lines from `line` on, and what follows them, a beat of their own. */
export function splitAt(session: StorySession, ref: BeatRef, line: number): void {
  const split = splitBeat(session.getState().story, ref, line)
  if (!split.ok) return session.tell(`This could not be split: ${split.error}.`)
  session.edit(split.value.change)
  session.goTo(`${ref.scene}.${split.value.id}`)
  focusSoon(fieldOf({ scene: ref.scene, id: split.value.id }, ':name'))
}

/** Takes the beat that comes next into this one. */
export function joinNext(session: StorySession, ref: BeatRef): void {
  const joined = joinBeats(session.getState().story, ref)
  if (!joined.ok) return session.tell(`This could not be joined: ${joined.error}.`)
  session.edit(joined.value)
}

/** Adds a variant to a group of variants. */
export function addVariant(session: StorySession, ref: BeatRef, group: number): void {
  editBeat(session, ref, (beat) => {
    const line = beat.lines?.[group]
    if (line === undefined || !isGroup(line)) return undefined
    const lines = [...beat.lines!]
    lines[group] = { ...line, firstOf: [...line.firstOf, { lines: [newLine()] }] }
    return { ...beat, lines }
  })
}
