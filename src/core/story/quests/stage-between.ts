import { fail, ok, type Result } from '../../base/result'
import { printEffect } from '../../expression/print'
import type { Change } from '../changes/types'
import { cachedEffect } from '../link-parts'
import type { Quest, Stage, Story } from '../types'
import { patchOwners } from './patch-owners'

export interface Between {
  readonly quest: string
  /** `unstarted` or a stage. */
  readonly from: string
  readonly to: string
  readonly stage: Stage
  /** Owners of effects that made the old move and are to lead to the new stage instead. */
  readonly repoint: readonly string[]
}

/**
 * Puts a stage between two others. The old move becomes two, and the effects that are named now
 * lead to the new stage; what leads on from there is the designer's to write.
 */
export function stageBetween(story: Story, { quest: id, from, to, stage, repoint }: Between): Result<Change> {
  const at = story.quests?.findIndex((one) => one.id === id) ?? -1
  const quest = story.quests?.[at]
  if (quest === undefined) return fail(`there is no quest "${id}"`)
  const before = quest.stages.findIndex((one) => one.id === to)
  if (before === -1) return fail(`the quest has no stage "${to}"`)
  if (quest.stages.some((one) => one.id === stage.id)) return fail(`the quest has a stage "${stage.id}" already`)
  const item: Quest = { ...quest, stages: quest.stages.toSpliced(before, 0, stage) }
  if (quest.moves !== undefined)
    item.moves = quest.moves.flatMap(([a, b]): [string, string][] =>
      a === from && b === to
        ? [
            [from, stage.id],
            [stage.id, to],
          ]
        : [[a, b]],
    )
  const turned = patchOwners(story, repoint, (part) => {
    const effects = part.do?.map((source) => {
      const parsed = cachedEffect(source)
      if (!parsed.ok) return source
      const effect = parsed.value
      if (effect.kind !== 'stage' || effect.quest !== id || effect.value.kind !== 'string' || effect.value.value !== to)
        return source
      return printEffect({ ...effect, value: { ...effect.value, value: stage.id } })
    })
    return effects === undefined ? part : { ...part, do: effects }
  })
  return ok({ op: 'batch', changes: [{ op: 'replace', in: { list: 'quests' }, id, at, item }, ...turned] })
}
