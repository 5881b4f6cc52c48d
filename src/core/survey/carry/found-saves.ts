import type { RouteItem } from '../../story/types'
import { CARRIED_KINDS, type CarriedFinding, type CarriedKind } from './carried'

/** What is found of saves, each thing once, with where it is found nearest to the start. */
export class FoundSaves<T> {
  private readonly found = new Map<
    string,
    { readonly kind: CarriedKind; readonly key: readonly string[]; readonly nearness: number; readonly where: T }
  >()

  note(kind: CarriedKind, key: readonly string[], nearness: number, where: T): void {
    const name = JSON.stringify([kind, ...key])
    const known = this.found.get(name)
    if (known === undefined || nearness < known.nearness) this.found.set(name, { kind, key, nearness, where })
  }

  /** As findings, kind by kind, of each kind those that are nearest first. */
  told(routeTo: (where: T) => readonly RouteItem[]): CarriedFinding[] {
    const order = Object.keys(CARRIED_KINDS)
    return [...this.found.values()]
      .sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind) || a.nearness - b.nearness)
      .map(({ kind, key, where }) => {
        const { level } = CARRIED_KINDS[kind]
        return { kind, level, key, message: messageOf(kind, key), route: routeTo(where) }
      })
  }
}

function messageOf(kind: CarriedKind, [key]: readonly string[]): string {
  switch (kind) {
    case 'carried-dead-end':
      return 'loaded here, the story is stuck at once'
    case 'carried-no-way-out':
      return 'loaded here, no ending can be reached any more'
    case 'carried-endless':
      return 'loaded here, the story goes round by itself for ever'
    case 'carried-stranded':
      return `loaded, "${key}" can no longer come to an outcome`
    case 'carried-stage-lost':
      return `this stage of "${key}" is not there any more: loaded, the quest has not begun`
    case 'carried-moved':
      return 'the beat is gone: the player finds themselves at the place, or at the start'
  }
}
