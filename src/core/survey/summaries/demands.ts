/** What a search tells apart beyond what its story itself does, as somebody else asks for it. */
export interface Demands {
  /** By beat: up to which count visits are told apart. */
  readonly visits?: ReadonlyMap<number, number>
  /** Choices of which it is told whether they were taken. */
  readonly taken?: ReadonlySet<number>
  /** Words that all texts are held against, and each other. */
  readonly words?: readonly string[]
  /** By entry that the game gives: where classes of its values begin; undefined: each value is one. */
  readonly cuts?: ReadonlyMap<number, readonly number[] | undefined>
  /** By index of the group in turn. */
  readonly turns?: ReadonlyMap<number, TurnCount>
}

/** How far a group's count is told apart: exactly below `from`, from there on only over so many. */
export interface TurnCount {
  readonly from: number
  readonly over: number
}
