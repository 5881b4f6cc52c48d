import type { Slices } from '../../base/slices'
import type { GeneratedCode } from '../codegen/generate'

/** Looked at this often, a beat is worth code of its own. */
const HOT = 100
/** Code is first written after so many states, then each time after four times as many. */
const FIRST_CODE = 512
const NEXT_CODE = 4
/** Choices for which code is written in one go. */
const CHOICES_A_TURN = 16

/** Which locations are looked at often, and the code that is written for them. */
export class HotBeats {
  code: GeneratedCode | undefined
  /** By location: how often it was looked at. */
  private readonly looks: Uint32Array
  private readonly after: number
  /** Those that are looked at often and have no code yet. */
  private hot: number[] = []
  /** Code that is being written. */
  private writing: Slices<void> | undefined
  private nextCode: number

  constructor(
    locations: number,
    private readonly newCode: () => GeneratedCode,
    /** Whether code can be written for a location. */
    private readonly isFit: (location: number) => boolean,
    /** How often one is looked at before code is written for it; for tests. */
    after?: number,
  ) {
    this.looks = new Uint32Array(locations)
    this.after = after ?? HOT
    this.nextCode = after ?? FIRST_CODE
  }

  look(location: number): void {
    if (this.looks[location] === this.after) this.hot.push(location)
    this.looks[location]! += 1
  }

  /** Writes code where it is time to, after so many states; false where others get their turn before all is written. */
  write(expanded: number): boolean {
    if (expanded < this.nextCode || this.hot.length === 0) return true
    this.writing ??= this.codeOfHot()
    for (let choices = 0; choices < CHOICES_A_TURN; choices += 1) {
      if (this.writing.next().done !== true) continue
      this.writing = undefined
      this.hot = []
      this.nextCode = this.after < HOT ? 0 : expanded * NEXT_CODE
      return true
    }
    return false
  }

  private *codeOfHot(): Slices<void> {
    this.code ??= this.newCode()
    yield* this.code.write(this.hot.filter(this.isFit))
  }
}
