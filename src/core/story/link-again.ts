import { beatAddress, choiceAddress } from '../base/ids'
import type { LinkedBeat, LinkedStory, Road } from './linked'
import { sameAroundBeats, sameAroundScenes, turnGroups } from './same-names'
import type { Beat, Choice, Scene, Story } from './types'

/** A beat that is to be linked, and the number that it has. */
export interface BeatToLink {
  readonly scene: number
  readonly beat: Beat
  /** Those of its choices that count. */
  readonly choices: readonly Choice[]
  readonly number: number
}

/** How many numbers were handed out since the story was linked as a whole: none is handed out twice. */
export interface HandedOut {
  readonly beats: number
  readonly choices: number
}

/** What an edit did to the beats of a story that was linked before it. What it left alone keeps its number. */
export interface BeatEdits {
  /** Beats that are written otherwise than before, or new. */
  readonly changed: readonly BeatToLink[]
  /** Numbers of beats that are gone. */
  readonly gone: ReadonlySet<number>
  /** The numbers of all beats in the order of the document. */
  readonly inOrder: readonly number[]
  /** How many beats and choices came, and the addresses of those that went. */
  readonly came: number
  readonly went: ReadonlySet<string>
  readonly beatOf: ReadonlyMap<string, number>
  readonly choiceOf: ReadonlyMap<string, number>
  readonly handedOut: HandedOut
}

/**
 * Compares two versions of a story of which the first was linked. Undefined where the other has to be linked as a
 * whole: where something else than beats and choices came or went, a group in turn did or was moved, an id stands
 * twice, or no number is left.
 */
export function beatEdits(before: LinkedStory, doc: Story, handedOut: HandedOut): BeatEdits | undefined {
  const old = before.doc
  if (!sameAroundScenes(old, doc)) return undefined
  const comparing = new Comparing(before, handedOut)
  for (let at = 0; at < doc.scenes.length; at += 1)
    if (!comparing.scene(at, old.scenes[at]!, doc.scenes[at]!)) return undefined
  return comparing.edits()
}

/** Goes through two versions of the scenes, in the order of the document. */
class Comparing {
  private readonly changed: BeatToLink[] = []
  private readonly gone = new Set<number>()
  private readonly inOrder: number[] = []
  private readonly cameBeats = new Map<string, number>()
  private readonly cameChoices = new Map<string, number>()
  private readonly went = new Set<string>()
  private readonly handedOut: { beats: number; choices: number }
  /** The position in the old document of the next scene's first beat. */
  private next = 0

  constructor(
    private readonly before: LinkedStory,
    handedOut: HandedOut,
  ) {
    this.handedOut = { ...handedOut }
  }

  edits(): BeatEdits {
    const { before, changed, gone, inOrder, cameBeats, cameChoices, went, handedOut } = this
    const renamed = (names: ReadonlyMap<string, number>, more: ReadonlyMap<string, number>) => {
      if (more.size + went.size === 0) return names
      const all = new Map(names)
      for (const address of went) all.delete(address)
      for (const [address, number] of more) all.set(address, number)
      return all
    }
    return {
      changed,
      gone,
      inOrder,
      came: cameBeats.size + cameChoices.size,
      went,
      beatOf: renamed(before.beatOf, cameBeats),
      choiceOf: renamed(before.choiceOf, cameChoices),
      handedOut,
    }
  }

  /** False where the story has to be linked as a whole. */
  scene(at: number, old: Scene, scene: Scene): boolean {
    const { before, inOrder } = this
    const first = this.next
    this.next += old.beats.length
    if (scene === old) {
      for (let position = first; position < this.next; position += 1) inOrder.push(before.inOrder[position]!.index)
      return true
    }
    if (!sameAroundBeats(old, scene)) return false
    // those that are not met are gone
    const left = new Map(old.beats.map((beat, position) => [beat.id, { beat, position: first + position }]))
    const ids = new Set<string>()
    let last = -1
    let isMoved = false
    for (const beat of scene.beats) {
      if (ids.has(beat.id)) return false
      ids.add(beat.id)
      const was = left.get(beat.id)
      const number = was === undefined ? this.numberOfNew(scene.id, beat) : before.inOrder[was.position]!.index
      if (number === undefined) return false
      inOrder.push(number)
      if (was !== undefined) {
        left.delete(beat.id)
        isMoved ||= was.position < last
        last = was.position
        if (was.beat === beat) continue
        if (turnGroups(was.beat) !== turnGroups(beat)) return false
      }
      if (!this.choices(scene.id, was?.beat, beat)) return false
      this.changed.push({ scene: at, beat, choices: beat.choices ?? [], number })
    }
    for (const { beat, position } of left.values()) {
      if (turnGroups(beat) !== '') return false
      this.went.add(beatAddress(scene.id, beat.id))
      for (const { id } of beat.choices ?? []) this.went.add(choiceAddress(scene.id, beat.id, id))
      this.gone.add(before.inOrder[position]!.index)
    }
    // groups in turn are numbered in the order of the document
    return !isMoved || scene.beats.every((beat) => turnGroups(beat) === '')
  }

  private numberOfNew(scene: string, beat: Beat): number | undefined {
    const number = this.handedOut.beats
    if (number === this.before.beats.length || turnGroups(beat) !== '') return undefined
    this.handedOut.beats += 1
    this.cameBeats.set(beatAddress(scene, beat.id), number)
    return number
  }

  /** Gives new choices their numbers. */
  private choices(scene: string, was: Beat | undefined, beat: Beat): boolean {
    const left = new Set(was?.choices?.map(({ id }) => id))
    const ids = new Set<string>()
    for (const { id } of beat.choices ?? []) {
      if (ids.has(id)) return false
      ids.add(id)
      if (left.delete(id)) continue
      if (this.handedOut.choices === this.before.choices.length) return false
      this.cameChoices.set(choiceAddress(scene, beat.id, id), this.handedOut.choices)
      this.handedOut.choices += 1
    }
    for (const id of left) this.went.add(choiceAddress(scene, beat.id, id))
    return true
  }
}

/** Whether some road of a beat leads to one of some beats. */
export function leadsTo({ redirects, choices, onward }: LinkedBeat, targets: ReadonlySet<number>): boolean {
  const isThere = ({ to }: { readonly to: Road }) => to.kind === 'beat' && targets.has(to.beat)
  return (
    redirects.some(isThere) ||
    onward.some(isThere) ||
    choices.some(({ to }) => (to.kind === 'road' ? isThere({ to: to.road }) : to.rules.some(isThere)))
  )
}
