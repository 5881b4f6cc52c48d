import type { LinkedStory } from '../../story/linked'
import { Compiler } from '../compile'
import { countMarks } from '../count-marks'
import { ConditionLog, Marks } from '../marks'
import type { Slots } from '../slots'
import { Machine } from './machine'
import { Programs } from './programs'

/** Room for marks and conditions that edits add, as a share of what there is. */
const ROOM = 1.25

/** What plays a story in a search: the working vector, what was seen, and the beats as compiled so far. */
export class Engine {
  readonly values: Int32Array
  readonly marks: Marks
  readonly conditions: ConditionLog
  readonly resting = { beat: -1, ending: -1 }
  readonly compiler: Compiler
  readonly programs: Programs
  readonly machine: Machine

  constructor(
    private story: LinkedStory,
    private readonly slots: Slots,
    overruns: ReadonlySet<number>,
  ) {
    this.values = Int32Array.from(slots.all, (slot) => slot.initial)
    const { marks, conditions } = countMarks(story)
    this.marks = new Marks(Math.ceil(marks * ROOM))
    this.conditions = new ConditionLog(Math.ceil(conditions * ROOM))
    this.compiler = new Compiler(story, slots, this.values, this.marks, this.resting, overruns)
    this.programs = new Programs(story, this.compiler, this.conditions)
    this.machine = new Machine(story, slots, this.values, this.marks, this.programs)
  }

  /** Makes it play the story after an edit that left the slots as they were, as if it were new; false where it can't. */
  renew(story: LinkedStory, slots: Slots): boolean {
    if (slots !== this.slots || story.doc.language !== this.story.doc.language) return false
    const changed = story.beats.flatMap((beat, index) => (beat === this.story.beats[index] ? [] : [index]))
    // what edited beats name anew comes on top of what they named before
    const more = countMarks(story, changed.map((beat) => story.beats[beat]!))
    if (this.marks.list.length + more.marks > this.marks.seen.length || this.conditions.addresses.length + more.conditions > this.conditions.seen.length) return false
    this.story = story
    this.compiler.story = story
    this.programs.renew(story, changed)
    this.marks.forget()
    this.conditions.seen.fill(0)
    this.machine.putBack()
    for (const slot of slots.all) this.values[slot.index] = slot.initial
    return true
  }
}
