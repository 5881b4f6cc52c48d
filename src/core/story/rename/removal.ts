import { never } from '../../base/assert'
import type { Change, ListPath } from '../changes/types'
import type { Story } from '../types'
import type { Named } from './rename'

/** The change that deletes a thing; what names it stays as it is and becomes a problem. Undefined where it is gone already. */
export function removal(story: Story, named: Named): Change | undefined {
  const from = (path: ListPath, items: readonly { readonly id: string }[] | undefined): Change | undefined => {
    const at = items?.findIndex(({ id }) => id === named.id) ?? -1
    return at === -1 ? undefined : { op: 'remove', in: path, id: named.id, at }
  }
  switch (named.of) {
    case 'scene':
      return from({ list: 'scenes' }, story.scenes)
    case 'person':
      return from({ list: 'cast' }, story.cast)
    case 'cue':
      return from({ list: 'cues' }, story.cues)
    case 'ending':
      return from({ list: 'endings' }, story.endings)
    case 'quest':
      return from({ list: 'quests' }, story.quests)
    case 'beat':
      return from({ list: 'beats', scene: named.scene }, story.scenes.find(({ id }) => id === named.scene)?.beats)
    case 'entry': {
      const owner = story.scenes.find(({ ledger }) => ledger?.some(({ id }) => id === named.id))
      return (
        from({ list: 'ledger' }, story.ledger) ??
        (owner && from({ list: 'sceneLedger', scene: owner.id }, owner.ledger))
      )
    }
    case 'choice': {
      const beats = story.scenes.find(({ id }) => id === named.scene)?.beats ?? []
      const at = beats.findIndex(({ id }) => id === named.beat)
      const beat = beats[at]
      if (beat?.choices === undefined) return undefined
      const { choices, ...rest } = beat
      const left = choices.filter(({ id }) => id !== named.id)
      return {
        op: 'replace',
        in: { list: 'beats', scene: named.scene },
        id: beat.id,
        at,
        item: left.length === 0 ? rest : { ...beat, choices: left },
      }
    }
    case 'stage': {
      const at = story.quests?.findIndex(({ id }) => id === named.quest) ?? -1
      const quest = story.quests?.[at]
      if (quest === undefined) return undefined
      const moves = quest.moves?.filter((move) => !move.includes(named.id))
      const item = {
        ...quest,
        stages: quest.stages.filter(({ id }) => id !== named.id),
        ...(moves === undefined ? {} : { moves }),
      }
      return { op: 'replace', in: { list: 'quests' }, id: quest.id, at, item }
    }
    case 'position':
      return undefined
    default:
      return never(named)
  }
}

/** The change that deletes several beats, as one step; undefined where none is left. */
export function beatsRemoval(story: Story, addresses: readonly string[]): Change | undefined {
  const wanted = new Set(addresses)
  const changes = story.scenes.flatMap((scene) =>
    scene.beats
      .map((beat, at): Change & { op: 'remove' } => ({
        op: 'remove',
        in: { list: 'beats', scene: scene.id },
        id: beat.id,
        at,
      }))
      // from the end, so that the places before stay what they are
      .reverse()
      .filter(({ id }) => wanted.has(`${scene.id}.${id}`)),
  )
  return changes.length <= 1 ? changes[0] : { op: 'batch', changes }
}
