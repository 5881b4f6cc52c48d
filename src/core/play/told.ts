import { plainId } from '../base/ids'
import type { LinkedStory } from '../story/linked'
import type { EntryValue, Outcome } from '../story/types'
import type { PlayState } from './state'
import { formatText } from './text'

/** A quest that has begun, as the player has it noted. */
export interface JournalPage {
  readonly quest: string
  readonly name: string
  readonly stage: string
  readonly stageName: string
  readonly outcome?: Outcome
  /** What the journal reads at the stage, where somebody wrote that. */
  readonly text?: string
}

/** The quests that have begun, in the order of the story. */
export function journalOf(story: LinkedStory, state: PlayState): JournalPage[] {
  return story.quests.flatMap((quest): JournalPage[] => {
    const at = state.stages[quest.index]!
    if (at === 0) return []
    const stage = quest.stages[at]!
    const text = story.journals.get(`${quest.id}.${stage}`)
    const outcome = quest.outcomes[at]
    return [
      {
        quest: quest.id,
        name: quest.name,
        stage,
        stageName: quest.names[at]!,
        ...(outcome === undefined ? {} : { outcome }),
        ...(text === undefined ? {} : { text: formatText(story, state, text) }),
      },
    ]
  })
}

/** Items that are carried, and how many of each. */
export function bagOf(
  story: LinkedStory,
  state: PlayState,
): { readonly id: string; readonly name: string; readonly count: number }[] {
  return story.entries.flatMap(({ id, kind, index, entry }) => {
    const count = state.entries[index]
    if (kind !== 'item' || typeof count !== 'number' || count === 0) return []
    return [{ id, name: entry.name ?? plainId(id), count }]
  })
}

/** All that the story remembers where it is: of scenes' own entries those of that scene. */
export function ledgerOf(story: LinkedStory, state: PlayState): Record<string, EntryValue> {
  const scene = story.beats[state.at]?.scene ?? -1
  return Object.fromEntries(
    story.entries
      .filter((entry) => entry.scene === -1 || entry.scene === scene)
      .map(({ id, index }) => [id, state.entries[index]!]),
  )
}

/** The stage of every quest. */
export function stagesOf(story: LinkedStory, state: PlayState): Record<string, string> {
  return Object.fromEntries(story.quests.map(({ id, index, stages }) => [id, stages[state.stages[index]!]!]))
}

/** How often beats were visited, those that were. */
export function visitsOf(story: LinkedStory, state: PlayState): Record<string, number> {
  return counted(story.inOrder, state.visits)
}

/** Counts by address; those that are 0 are left out. */
export function counted(
  all: readonly { readonly address: string; readonly index: number }[],
  times: ArrayLike<number>,
): Record<string, number> {
  return Object.fromEntries(all.flatMap(({ address, index }) => (times[index] === 0 ? [] : [[address, times[index]!]])))
}
