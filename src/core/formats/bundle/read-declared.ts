import type { At } from '../../base/at'
import type { Scope } from '../../expression/check'
import type { LinkedEntry, LinkedQuest } from '../../story/linked'
import type { Entry, Outcome, WhenGiven } from '../../story/types'
import type { Texts } from './read-text'

/** What names may show: nothing. */
export const NO_NAMES: Scope = {
  entry: () => ({ trouble: 'a name shows nothing of the story' }),
  quest: () => undefined,
  hasBeat: () => false,
  hasChoice: () => false,
  hasEnding: () => false,
  hasPerson: () => false,
  promise: false,
}

/** An entry; `scenes`: how many there are. */
export function readEntry(at: At, index: number, scenes: number): LinkedEntry {
  const id = at.key('id').string()
  const kind = at.key('kind').oneOf(['flag', 'switch', 'counter', 'item', 'text'])
  const initial = at.key('initial')
  const isNumber = kind === 'counter' || kind === 'item'
  const base = {
    index,
    id,
    kind,
    // what people read is all that is needed of it
    entry: { id, kind, name: at.maybe('name', (name) => name.string()) } as Entry,
    scene: at.maybe('scene', (scene) => scene.index(scenes, 'a scene')) ?? -1,
    positions: kind === 'switch' ? at.key('positions').list((position) => position.string()) : [],
    min: isNumber ? at.key('min').integer() : 0,
    max: isNumber ? at.key('max').integer() : 0,
    given: at.maybe('given', (given) => given.oneOf<WhenGiven>(['begin', 'rest'])),
  }
  switch (kind) {
    case 'flag':
      return { ...base, initial: initial.boolean() }
    case 'counter':
    case 'item': {
      const value = initial.integer()
      if (value < base.min || value > base.max) initial.fail(`a number from ${base.min} to ${base.max}`)
      return { ...base, initial: value }
    }
    case 'switch':
    case 'text': {
      const value = initial.string()
      // a switch without positions starts as ""
      if (kind === 'switch' && base.positions.length > 0) initial.oneOf(base.positions)
      return { ...base, initial: value }
    }
  }
}

/** Quests as far as texts can name them. */
export function questNames(at: At): LinkedQuest[] {
  return at.list((quest, index) => ({
    index,
    id: quest.key('id').string(),
    name: '',
    stages: quest.key('stages').list((stage) => stage.key('id').string()),
    names: [],
    outcomes: [],
    moves: undefined,
  }))
}

export function readQuest(at: At, index: number, texts: Texts): LinkedQuest {
  const stages = at.key('stages')
  if (stages.items()[0]?.key('id').value !== 'unstarted') stages.fail('"unstarted" as the first stage')
  return {
    index,
    id: at.key('id').string(),
    name: texts.name(at.key('name'), NO_NAMES),
    stages: stages.list((stage) => stage.key('id').string()),
    names: stages.list((stage) => stage.maybe('name', (name) => texts.name(name, NO_NAMES)) ?? 'unstarted'),
    outcomes: stages.list((stage) => stage.maybe('outcome', (one) => one.oneOf<Outcome>(['success', 'failure']))),
    moves: undefined,
  }
}
