import type { Explored, QuestEnd } from './exploration'
import { finding, type Found } from './finding'

/**
 * `stranded-stage`: the story rests, not ended, with a quest under way whose outcome can no longer be come to.
 * `left-open`: it ends with a quest under way.
 */
export function questEnds(explored: Explored): Found[] {
  return explored.questEnds().map((end) => finding(end.kind, [end.quest, end.stage], messageOf(end), end.route))
}

function messageOf({ kind, quest, stage }: QuestEnd): string {
  switch (kind) {
    case 'stranded-stage':
      return `"${quest}" can get to "${stage}" and never come to an outcome`
    case 'left-open':
      return `the story can end while "${quest}" is at "${stage}"`
  }
}
