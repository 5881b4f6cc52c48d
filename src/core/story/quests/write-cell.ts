import { parseAddress } from '../../base/address'
import { freshId } from '../../base/ids'
import { idFrom } from '../../base/id-from'
import { fail, ok, type Result } from '../../base/result'
import type { Change } from '../changes/types'
import { beatAt, choiceAt } from '../beat-at'
import { patchPart } from '../reshape/patch-part'
import type { Beat, Choice, Rule, Story } from '../types'

/** What somebody shall say at a stage. */
export interface CellText {
  /** The choice by which they are approached. */
  readonly encounter: string
  readonly quest: string
  readonly stage: string
  /** A beat to begin from; without it an empty line. */
  readonly like?: string
}

/**
 * Gives somebody a beat of their own for a stage: a new rule in the list of the encounter's roads,
 * before the others, leads to it, and it leads back to the place. Gives the change and the beat.
 */
export function writeCell(
  story: Story,
  { encounter, quest, stage, like }: CellText,
): Result<{ readonly change: Change; readonly beat: string }> {
  const place = parseAddress(encounter)
  const scene = story.scenes.find(({ id }) => id === place?.scene)
  const beat = beatAt(story, encounter)
  const choice = choiceAt(story, encounter)
  if (place === undefined || scene === undefined || beat === undefined || choice === undefined)
    return fail(`there is no choice "${encounter}" any more`)
  const model = like === undefined ? undefined : beatAt(story, like)
  const id = freshId(idFrom(`${choice.who ?? choice.id} ${stage}`, 'beat'), (taken) =>
    scene.beats.some((one) => one.id === taken),
  )
  const made: Beat =
    model === undefined
      ? {
          id,
          lines: [{ ...(choice.who === undefined ? {} : { speaker: choice.who }), text: '' }],
          onward: [{ to: 'return' }],
        }
      : { ...structuredClone(model), id }
  const rule: Rule = { when: `quest.${quest} == '${stage}'`, to: `${scene.id}.${id}` }
  const item = patchPart(beat, place, <T extends object>(part: T): T => {
    const { to } = part as unknown as Choice
    return { ...part, to: [rule, ...(typeof to === 'string' ? (to === '' ? [] : [{ to }]) : to)] }
  })
  const at = scene.beats.indexOf(beat)
  const changes: Change[] = [
    { op: 'replace', in: { list: 'beats', scene: scene.id }, id: beat.id, at, item },
    { op: 'insert', in: { list: 'beats', scene: scene.id }, at: scene.beats.length, item: made },
  ]
  return ok({ change: { op: 'batch', changes }, beat: `${scene.id}.${id}` })
}
