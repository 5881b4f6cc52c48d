/** Steps of a summary; each is followed by its operands. */
export const STEP = {
  /** A variable is read. */
  read: 0,
  /** A variable is read by showing a text. */
  shown: 1,
  /** A variable is set anew. */
  kill: 2,
  /** An effect on an entry: the entry, how (EFFECT), whether it may be left out, its number among the beat's effects, how many variables it reads, those. */
  effect: 3,
  /** A stage is set: the quest, whether it may be left out, whether the quest declares moves. */
  stage: 4,
  /** So many of the following numbers are steps of a way of its own from nothing; what it gives is added. */
  aside: 5,
  /** Variants begin from here. */
  base: 6,
  /** The same as `aside`, from where the variants begin. */
  variant: 7,
  /** A group in turn: its number, how many of the following numbers are its steps; left out where it is not followed. */
  turns: 10,
  /** Goes to a beat. */
  go: 8,
  /** Goes back to a place. */
  goBack: 9,
} as const

/** How an effect changes an entry. */
export const EFFECT = { setLiteral: 0, setOther: 1, change: 2 } as const
