import { freshId } from '../../base/ids'
import { fail, ok, type Result } from '../../base/result'
import { parseExpression } from '../../expression/parse'
import { printExpression } from '../../expression/print'
import type { Change } from '../changes/types'
import { cachedEffect } from '../link-parts'
import { ownersIn } from '../owners-in'
import type { Quest, Stage, StoryPromise, Story } from '../types'
import { patchOwners } from './patch-owners'

/** The stage that a quest gets when its rival is accepted. */
const DECLINED = 'declined'

/**
 * `fails`: accepting one fails the other, at whatever stage it is, as long as it has not succeeded; `closes`: one is
 * accepted only while the other has not begun, and nothing else happens to it.
 */
export type RivalKind = 'fails' | 'closes'

/**
 * Makes two quests rivals in one step, wherever one is accepted (its first stage is set); either way a promise says that
 * not both succeed.
 */
export function makeRivals(story: Story, ids: readonly [string, string], kind: RivalKind): Result<Change> {
  const quests = ids.map((id) => story.quests?.find((quest) => quest.id === id))
  const [first, second] = quests
  if (first === undefined || second === undefined || first === second) return fail('two different quests are needed')
  for (const quest of [first, second]) {
    if (quest.stages[0] === undefined || quest.stages[0].outcome !== undefined)
      return fail(`“${quest.name}” has no stage at which it is accepted: its first stage is an outcome`)
    if (acceptedBy(story, quest).length === 0)
      return fail(`nothing in the story accepts “${quest.name}” yet: no effect sets its first stage`)
    if (!quest.stages.some(({ outcome }) => outcome === 'success'))
      return fail(`“${quest.name}” has no outcome that is a success, so nothing can be promised`)
  }
  const changes: Change[] = []
  const declined = new Map(
    [first, second].map((quest) => [quest.id, kind === 'fails' ? declinable(quest) : { item: quest, stage: '' }]),
  )
  for (const quest of [first, second]) {
    const at = story.quests!.indexOf(quest)
    const { item } = declined.get(quest.id)!
    if (item !== quest) changes.push({ op: 'replace', in: { list: 'quests' }, id: quest.id, at, item })
  }
  const rivalOf = (quest: Quest) => (quest === first ? second : first)
  const wanted = new Map<string, Quest[]>()
  for (const quest of [first, second])
    for (const owner of acceptedBy(story, quest)) wanted.set(owner, [...(wanted.get(owner) ?? []), quest])
  changes.push(
    ...patchOwners(story, [...wanted.keys()], (part, owner) => {
      let next = part
      for (const quest of wanted.get(owner)!) {
        const rival = rivalOf(quest)
        const gate = kind === 'closes' ? `quest.${rival.id} == 'unstarted'` : notSucceeded(rival)
        const parsed = next.when === undefined ? undefined : parseExpression(next.when)
        const when =
          next.when === undefined
            ? gate
            : parsed?.ok && parsed.value.kind === 'or'
              ? `(${printExpression(parsed.value)}) && ${gate}`
              : `${next.when} && ${gate}`
        next = {
          ...next,
          when: next.when?.includes(gate) ? next.when : when,
          ...(kind === 'closes'
            ? {}
            : { do: [...(next.do ?? []), `quest.${rival.id} = '${declined.get(rival.id)!.stage}'`] }),
        }
      }
      return next
    }),
  )
  const promises = story.promises ?? []
  const id = freshId('not_both', (taken) => promises.some((promise) => promise.id === taken))
  const item: StoryPromise = {
    id,
    kind: 'never',
    holds: `${succeeded(first)} && ${succeeded(second)}`,
    notes: `“${first.name}” and “${second.name}” are rivals.`,
  }
  changes.push({ op: 'insert', in: { list: 'promises' }, at: promises.length, item })
  return ok({ op: 'batch', changes })
}

function successes(quest: Quest): string[] {
  return quest.stages.filter(({ outcome }) => outcome === 'success').map((stage) => `'${stage.id}'`)
}

function succeeded(quest: Quest): string {
  const stages = successes(quest)
  return stages.length === 1 ? `quest.${quest.id} == ${stages[0]!}` : `quest.${quest.id} in [${stages.join(', ')}]`
}

function notSucceeded(quest: Quest): string {
  const stages = successes(quest)
  return stages.length === 1 ? `quest.${quest.id} != ${stages[0]!}` : `!(quest.${quest.id} in [${stages.join(', ')}])`
}

/** Owners of effects that set the quest's first stage. */
function acceptedBy(story: Story, quest: Quest): string[] {
  const stage = quest.stages[0]!.id
  return story.scenes.flatMap((scene) =>
    scene.beats.flatMap((beat) =>
      ownersIn(scene.id, beat).flatMap(({ address, part }) =>
        (part.do ?? []).some((source) => {
          const parsed = cachedEffect(source)
          return (
            parsed.ok &&
            parsed.value.kind === 'stage' &&
            parsed.value.quest === quest.id &&
            parsed.value.value.kind === 'string' &&
            parsed.value.value.value === stage
          )
        })
          ? [address]
          : [],
      ),
    ),
  )
}

/** The quest with a stage for being declined, and its moves there from all that is no success. */
function declinable(quest: Quest): { readonly item: Quest; readonly stage: string } {
  const known = quest.stages.find((stage) => stage.id === DECLINED)
  const stage: Stage = known ?? { id: DECLINED, name: 'Declined', outcome: 'failure' }
  const stages = known === undefined ? [...quest.stages, stage] : quest.stages
  const open = quest.stages.filter(({ id, outcome }) => outcome !== 'success' && id !== DECLINED).map(({ id }) => id)
  // a quest that was declined is accepted again
  const wanted: [string, string][] = [
    ...['unstarted', ...open].map((from): [string, string] => [from, DECLINED]),
    [DECLINED, quest.stages[0]!.id],
  ]
  const missing = wanted.filter(([from, to]) => !quest.moves?.some((move) => move[0] === from && move[1] === to))
  if (known !== undefined && (quest.moves === undefined || missing.length === 0))
    return { item: quest, stage: DECLINED }
  return {
    item: { ...quest, stages, ...(quest.moves === undefined ? {} : { moves: [...quest.moves, ...missing] }) },
    stage: DECLINED,
  }
}
