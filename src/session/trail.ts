/** So many beats are remembered for going back. */
const TRAIL_MAX = 200

/** The beats that one has been at, for going back and forward among them. */
export class Trail {
  private beats: readonly string[] = []
  private at = -1

  /** One has come to a beat: what one had gone back from is forgotten. */
  remember(beat: string | undefined): void {
    if (beat === undefined) return
    this.beats = [...this.beats.slice(0, this.at + 1), beat].slice(-TRAIL_MAX)
    this.at = this.beats.length - 1
  }

  /** Back (−1) or forward (1) to the next beat that is still there; undefined when there is none. */
  walk(step: 1 | -1, isThere: (beat: string) => boolean): string | undefined {
    for (let next = this.at + step; next >= 0 && next < this.beats.length; next += step) {
      if (!isThere(this.beats[next]!)) continue
      this.at = next
      return this.beats[next]
    }
    return undefined
  }
}
