/** A variable on the way from sets over some variables to sets over others; variables come in one order. */
export interface Variable {
  /** How many values it has. */
  readonly size: number
  /** Whether sets at the source, and at the target, tell it. */
  readonly from: boolean
  readonly to: boolean
}

/** What a command does to one variable. */
export interface Step {
  /** The one value that it must have at the source, or -1. */
  readonly guard: number
  /** The value that it has at the target, or -1 where it stays; always told where only the target has it. */
  readonly write: number
}

/** A step that does something, and what the commands that begin with it do after it. */
export interface Edge extends Step {
  readonly then: Relation
}

/**
 * What some commands between the same places do to a set, all at once: a command is found at the first variable that it
 * asks for or sets, those that begin alike together (after Ciardo, Marmorstein, Siminiceanu: The saturation algorithm for
 * symbolic state-space exploration, 2006, in which a command is applied at its topmost variable).
 */
export interface Relation {
  readonly number: number
  /** A number for its first variable, of which the next ones are those of the others. */
  readonly place: number
  readonly variables: readonly Variable[]
  /** Whether some command does nothing more. */
  readonly isDone: boolean
  /** By variable: what commands do first. */
  readonly edges: readonly (readonly Edge[] | undefined)[]
  /** From this variable on no command does anything first. */
  readonly end: number
}

/** Makes relations, each with a number of its own. */
export class RelationMaker {
  private count = 0
  private places = 0

  /** The relation of some commands, each with a step for each variable. */
  of(variables: readonly Variable[], commands: readonly (readonly Step[])[], first = 0): Relation {
    const groups = new Map<
      string,
      { readonly at: number; readonly step: Step; readonly commands: (readonly Step[])[] }
    >()
    let isDone = false
    for (const steps of commands) {
      let at = first
      while (at < variables.length && isSame(variables[at]!, steps[at]!)) at += 1
      if (at === variables.length) {
        isDone = true
        continue
      }
      const step = steps[at]!
      const key = `${at} ${step.guard} ${step.write}`
      const group = groups.get(key)
      if (group === undefined) groups.set(key, { at, step, commands: [steps] })
      else group.commands.push(steps)
    }
    const edges: Edge[][] = []
    for (const { at, step, commands: those } of groups.values()) {
      const { guard, write } = step
      ;(edges[at] ??= []).push({ guard, write, then: this.of(variables, those, at + 1) })
    }
    this.count += 1
    // only whole relations are closed under
    const place = this.places
    if (first === 0) this.places += variables.length
    return { number: this.count, place, variables, isDone, edges, end: edges.length }
  }
}

function isSame({ from, to }: Variable, { guard, write }: Step): boolean {
  return from && to && guard === -1 && write === -1
}
