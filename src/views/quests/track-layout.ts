import type { Quest } from '../../core/story/types'
import type { QuestFacts } from '../../core/survey/questions/quests/quest-facts'

/** A move as it is drawn: declared and made, declared and made by nobody, made and not declared. */
export interface TrackMove {
  readonly from: string
  readonly to: string
  readonly kind: 'made' | 'unmade' | 'undeclared' | 'unknown'
}

/** Where a stage stands: column from the left, row from above. */
export interface TrackStage {
  readonly id: string
  readonly column: number
  readonly row: number
}

/** Declared and made moves of a quest; without a survey's facts only the declared ones, of unknown kind. */
export function trackMoves(quest: Quest, facts: QuestFacts | undefined): TrackMove[] {
  const known = new Set(['unstarted', ...quest.stages.map(({ id }) => id)])
  const declared = quest.moves ?? []
  const made = facts?.moves ?? []
  const isMade = (from: string, to: string) => made.some((move) => move.from === from && move.to === to)
  const list = declared.map(([from, to]): TrackMove => ({
    from,
    to,
    kind: facts === undefined ? 'unknown' : isMade(from, to) ? 'made' : 'unmade',
  }))
  for (const { from, to } of made) {
    if (declared.some(([a, b]) => a === from && b === to)) continue
    list.push({ from, to, kind: quest.moves === undefined ? 'made' : 'undeclared' })
  }
  return list.filter(({ from, to }) => known.has(from) && known.has(to))
}

/** Stages in columns by how many moves they are from unstarted, outcomes in the last; those that no move leads to stand after the first. */
export function trackStages(quest: Quest, moves: readonly TrackMove[]): TrackStage[] {
  const column = new Map([['unstarted', 0]])
  for (let grown = true; grown;) {
    grown = false
    for (const { from, to } of moves) {
      const at = column.get(from)
      if (at === undefined || column.has(to)) continue
      column.set(to, at + 1)
      grown = true
    }
  }
  const open = quest.stages.filter(({ outcome }) => outcome === undefined)
  for (const { id } of quest.stages) if (!column.has(id)) column.set(id, 1)
  const last = Math.max(0, ...open.map(({ id }) => column.get(id)!)) + 1
  for (const { id, outcome } of quest.stages) if (outcome !== undefined) column.set(id, last)
  const rows = new Map<number, number>()
  return ['unstarted', ...quest.stages.map(({ id }) => id)].map((id) => {
    const at = column.get(id)!
    const row = rows.get(at) ?? 0
    rows.set(at, row + 1)
    return { id, column: at, row }
  })
}
