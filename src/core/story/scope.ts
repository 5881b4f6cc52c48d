import type { Scope } from '../expression/check'
import type { EntryKind } from './types'
import type { LinkedEntry, LinkedQuest } from './linked'

const TYPES = { flag: 'bool', switch: 'string', counter: 'int', item: 'int', text: 'string' } as const satisfies Record<
  EntryKind,
  string
>

/** The names of a story that are declared once and for all, before its beats are linked. */
export interface Declared {
  readonly entries: readonly LinkedEntry[]
  readonly quests: readonly LinkedQuest[]
  readonly scenes: readonly { readonly id: string }[]
  readonly entryOf: ReadonlyMap<string, number>
  readonly questOf: ReadonlyMap<string, number>
  readonly endingOf: ReadonlyMap<string, number>
  readonly people: ReadonlyMap<string, unknown>
  readonly beatOf: ReadonlyMap<string, number>
  readonly choiceOf: ReadonlyMap<string, number>
  /** Groups in turn by their addresses. */
  readonly turnsOf: ReadonlyMap<string, number>
}

/** What an expression may name inside a scene (by its index; -1: outside of all), or in a promise. */
export function scopeOf(declared: Declared, scene: number, promise = false): Scope {
  const { entries, quests, scenes } = declared
  return {
    entry: (id) => {
      const entry = entries[declared.entryOf.get(id) ?? -1]
      if (entry === undefined) return { trouble: `there is no ledger entry "${id}"`, missing: { of: 'entry', id } }
      if (entry.scene !== -1 && entry.scene !== scene) {
        return { trouble: `"${id}" lives only inside the scene "${scenes[entry.scene]!.id}"` }
      }
      return {
        kind: entry.kind,
        type: TYPES[entry.kind],
        ...(entry.given === undefined ? {} : { isGiven: true }),
        ...(entry.kind === 'switch' ? { positions: entry.positions, ownedBy: { entry: id } } : {}),
      }
    },
    quest: (id) => quests[declared.questOf.get(id) ?? -1]?.stages,
    hasBeat: (address) => declared.beatOf.has(address),
    hasChoice: (address) => declared.choiceOf.has(address),
    hasPerson: (id) => declared.people.has(id),
    hasEnding: (id) => declared.endingOf.has(id),
    promise,
  }
}
