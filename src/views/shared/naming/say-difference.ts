import { plainId } from '../../../core/base/ids'
import { FINDING_KINDS } from '../../../core/survey/findings/finding'
import type { SurveyDifference } from '../../../core/survey/questions/difference'
import type { Reachable } from '../../../core/survey/result'
import type { Named } from '../../../core/story/rename/rename'
import type { Story } from '../../../core/story/types'
import { itemName, sayAddress } from '../../../session/names'

const SINGULAR: Readonly<Record<Reachable, string>> = {
  endings: 'ending',
  stages: 'stage',
  beats: 'beat',
  choices: 'choice',
}

/** What changed between two surveys, a sentence each; what is itself deleted is left out. */
export function sayDifference(
  story: Story,
  { lost, won, appeared, settled, promises }: SurveyDifference,
  without: readonly Named[] = [],
): string[] {
  const own = without.map(addressOf)
  const isOwn = (id: string) => own.some((one) => id === one || id.startsWith(`${one}.`))
  const name = (what: Reachable, id: string) =>
    what === 'endings' || what === 'stages' ? itemName(story, what, id) : sayAddress(id, story)
  const reach = (list: SurveyDifference['lost'], end: string) =>
    (['endings', 'stages', 'beats', 'choices'] as const).flatMap((what) =>
      list[what].filter((id) => !isOwn(id)).map((id) => `the ${SINGULAR[what]} “${name(what, id)}” ${end}`),
    )
  const found = (list: SurveyDifference['appeared'], lead: string) =>
    // what is lost is told above, by name
    list
      .filter(({ kind, key }) => kind !== 'unreached' && !isOwn(key[0] ?? ''))
      .map(
        ({ kind, key }) => `${lead}${FINDING_KINDS[kind].name}: ${key.map((one) => sayAddress(one, story)).join(', ')}`,
      )
  return [
    ...reach(lost, 'is no longer reached'),
    ...reach(won, 'is reached now'),
    ...promises.map(({ id, before, after }) =>
      after === undefined
        ? `the promise “${plainId(id)}” has no verdict any more`
        : before === undefined
          ? `the promise “${plainId(id)}” is ${after}`
          : `the promise “${plainId(id)}” was ${before} and is ${after}`,
    ),
    ...found(appeared, 'new finding: '),
    ...found(settled, 'settled: '),
  ]
}

function addressOf(named: Named): string {
  switch (named.of) {
    case 'beat':
      return `${named.scene}.${named.id}`
    case 'choice':
      return `${named.scene}.${named.beat}.${named.id}`
    case 'stage':
      return `${named.quest}.${named.id}`
    case 'cue':
    case 'ending':
    case 'entry':
    case 'person':
    case 'position':
    case 'quest':
    case 'scene':
      return named.id
  }
}
