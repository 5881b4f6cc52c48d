/** Where the story stands before something is played. */
export interface Standing {
  readonly location: number
  readonly base: Int32Array
  /** Slots that states hold there. */
  readonly held: ReadonlySet<number>
  /** Slots that the game gives, and that states do not hold. */
  readonly inputs: ReadonlySet<number>
  /** By slot: 1 where it is one of those. */
  readonly free: Uint8Array
}

export function standing(
  location: number,
  base: Int32Array,
  held: ReadonlySet<number>,
  inputs: ReadonlySet<number>,
): Standing {
  const free = new Uint8Array(base.length)
  for (const slot of [...held, ...inputs]) free[slot] = 1
  return { location, base, held, inputs, free }
}
