import type { Slices } from '../../base/slices'
import { linkStory } from '../../story/link'
import type { RouteItem, Expectation, Story } from '../../story/types'
import { surveyInSlices } from '../survey'
import { printExpression, quote } from '../../expression/print'
import { literal } from '../../expression/pick'

/** A shortest route to where something holds; that there is none; or that the time was not enough to tell. */
export type FoundRoute =
  | { readonly kind: 'route'; readonly route: readonly RouteItem[] }
  | { readonly kind: 'none' }
  | { readonly kind: 'undecided' }
  | { readonly kind: 'unreadable'; readonly message: string }

const ASKED = 'asked_for'

/**
 * The shortest route to a resting state in which a condition holds, which may ask where the story
 * rests like a promise. It is judged as the promise that this is possible, so whatever it reads is
 * followed, also what nothing else in the story reads.
 */
export function* findRoute(story: Story, condition: string, stop: () => boolean): Slices<FoundRoute> {
  const linked = linkStory({ ...story, routes: [], promises: [{ id: ASKED, kind: 'possible', holds: condition }] })
  const problem = linked.problems.find(({ address, part }) => address === ASKED && part === 'holds')
  if (problem !== undefined) return { kind: 'unreadable', message: problem.message }
  const verdict = (yield* surveyInSlices(linked, {}, stop)).promises[ASKED]
  if (verdict?.verdict === 'kept') return { kind: 'route', route: verdict.route! }
  return { kind: verdict?.verdict === 'broken' ? 'none' : 'undecided' }
}

/** What a kept route expects, as a condition; undefined when it expects nothing. */
export function expectationCondition({ ending, stages, ledger }: Expectation): string | undefined {
  const parts = [
    ...(ending === undefined ? [] : [`ended(${quote(ending)})`]),
    ...Object.entries(stages ?? {}).map(([quest, stage]) => `quest.${quest} == ${quote(stage)}`),
    ...Object.entries(ledger ?? {}).map(([entry, value]) =>
      typeof value === 'boolean' ? (value ? entry : `!${entry}`) : `${entry} == ${printExpression(literal(value))}`,
    ),
  ]
  return parts.length === 0 ? undefined : parts.join(' && ')
}
