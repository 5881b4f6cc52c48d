import type { LinkedStory } from '../../story/linked'
import { Compiler } from './compile'
import type { Followed } from './condition-compiler'
import { countEvents } from './count-events'
import { EventLog } from './events'
import type { GivenPlan } from '../analysis/given-plan'
import { Givens } from './givens'
import type { Slots } from '../analysis/slots'
import { Machine } from './machine'
import { Programs } from './programs'
import { changedBeats } from '../../story/linked-parts'

/** Room for events that edits add: as a share of what there is, and in a small story some at least. */
const ROOM = 1.25
const ROOM_LEAST = 1000
const SPARE = 64

/** A working vector that somebody watches, the same where nobody is told, and what compiles conditions for it. */
export interface Watched {
  readonly values: Int32Array
  readonly bare: Int32Array
  readonly Compiler: typeof Compiler
}

/** What plays a story in a search: the working vector, what was seen, and the beats as compiled so far. */
export class Engine {
  readonly values: Int32Array
  readonly events: EventLog
  readonly resting = { beat: -1, ending: -1 }
  readonly givens: Givens
  readonly compiler: Compiler
  readonly programs: Programs
  readonly machine: Machine

  /** Marks that there can be at most, those of edited beats counted anew with every edit. */
  private counted: number

  constructor(
    private story: LinkedStory,
    private readonly slots: Slots,
    followed: Followed,
    readonly plan: GivenPlan,
    /** Where somebody watches what is read and written. */
    watched?: Watched,
  ) {
    this.values = watched?.values ?? Int32Array.from(slots.all, (slot) => slot.initial)
    const Kind = watched?.Compiler ?? Compiler
    this.counted = countEvents(story) + story.endings.length + SPARE
    this.events = new EventLog(story, Math.ceil(this.counted * ROOM) + ROOM_LEAST)
    this.givens = new Givens(watched?.bare ?? this.values, slots, plan)
    this.compiler = new Kind(story, slots, this.values, this.events, this.resting, followed, this.givens)
    this.programs = new Programs(story, this.compiler)
    this.machine = new Machine(story, slots, this.values, this.events, this.programs, watched?.bare)
  }

  /** Makes it play the story after an edit that left the slots as they were, as if it were new; false where it can't. */
  renew(story: LinkedStory, slots: Slots): boolean {
    if (slots !== this.slots || story.doc.language !== this.story.doc.language) return false
    const changed = changedBeats(story, this.story)
    // What edited beats name comes on top of what they named before; beats that no route has come to yet are counted too.
    this.counted += countEvents(
      story,
      changed.map((beat) => story.beats[beat]!),
    )
    if (this.counted > this.events.occurred.length) return false
    this.story = story
    this.compiler.story = story
    this.programs.renew(story, changed)
    this.events.renew(story, changed)
    return true
  }
}
