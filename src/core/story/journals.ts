import type { DeclaredStory } from './declare'
import type { LinkedText, Problem, Use } from './linked'
import { linkText } from './link-parts'
import { scopeOf } from './scope'
import { argumentsIn } from './text'
import { noteArgument } from './uses'
import type { Story } from './types'

/** What the journal reads at each stage, by `quest.stage`: texts that read the story's ledger, and no scene's own entry. */
export function linkJournals(
  doc: Story,
  declared: DeclaredStory,
  problems: Problem[],
): { readonly journals: ReadonlyMap<string, LinkedText>; readonly uses: readonly Use[] } {
  const scope = scopeOf(declared, -1)
  const journals = new Map<string, LinkedText>()
  const uses: Use[] = []
  const quests = new Set<string>()
  for (const quest of doc.quests ?? []) {
    // of double ids the first counts
    if (quests.has(quest.id)) continue
    quests.add(quest.id)
    for (const stage of quest.stages) {
      const address = `${quest.id}.${stage.id}`
      if (stage.journal === undefined || journals.has(address)) continue
      const text = linkText(stage.journal, address, 'journal', { scope, problems })
      journals.set(address, text)
      for (const argument of text.isPlain || text.parsed === undefined ? [] : argumentsIn(text.parsed))
        noteArgument(argument, address, 'journal', uses)
    }
  }
  return { journals, uses }
}
