import type { Names } from '../core/expression/words'
import type { Named } from '../core/story/rename/rename'
import type { Story } from '../core/story/types'

/** An id as it is read: "toll_paid" is "toll paid". */
export function plainId(id: string): string {
  return id.replaceAll('_', ' ')
}

/** What things are called on the page. */
export function storyNames(story: Story): Names {
  return {
    entry: plainId,
    quest: (id) => story.quests?.find((quest) => quest.id === id)?.name ?? plainId(id),
    stage: (quest, stage) =>
      story.quests?.find((one) => one.id === quest)?.stages.find((one) => one.id === stage)?.name ?? plainId(stage),
    beat: (address) => plainId(address.split('.').at(-1) ?? address),
    choice: (address) => {
      const [scene, beat, choice] = address.split('.')
      const found = story.scenes
        .find((one) => one.id === scene)
        ?.beats.find((one) => one.id === beat)
        ?.choices?.find((one) => one.id === choice)
      return found === undefined ? plainId(choice ?? address) : `“${found.text}”`
    },
    ending: (id) => `“${story.endings?.find((one) => one.id === id)?.name ?? plainId(id)}”`,
  }
}

/** "quay.morning#onward2" as it is read: "quay · morning, onward 2". */
export function sayAddress(address: string): string {
  const [place, inner] = address.split('#')
  const shown = place!.split('.').map(plainId).join(' · ')
  return inner === undefined
    ? shown
    : `${shown}, ${inner
        .replace(/([a-z])(\d)/g, '$1 $2')
        .replaceAll('.', ', ')
        .replace(/^(\d+)$/, 'road $1')}`
}

/** What a choice, rule, arrival or line is called where it does something: a choice by its text. */
export function sayOwner(story: Story, owner: string): string {
  return /^[^#.]+\.[^#.]+\.[^#.]+$/.test(owner) ? storyNames(story).choice(owner) : sayAddress(owner)
}

/** A value as it is read: yes and no for flags, "empty" for no word. */
export function sayValue(value: unknown): string {
  return value === true ? 'yes' : value === false ? 'no' : value === '' ? 'empty' : plainId(String(value))
}

/** What an ending or a stage (`quest.stage`) is called. */
export function itemName(story: Story, what: 'endings' | 'stages', id: string): string {
  if (what === 'endings') return story.endings?.find((ending) => ending.id === id)?.name ?? id
  const [questId, stageId] = id.split('.')
  const quest = story.quests?.find((one) => one.id === questId)
  return `${quest?.name ?? questId}: ${quest?.stages.find((stage) => stage.id === stageId)?.name ?? stageId}`
}

/** What anything that has a name is called. */
export function thingName(story: Story, named: Named): string {
  switch (named.of) {
    case 'scene':
      return story.scenes.find(({ id }) => id === named.id)?.title ?? named.id
    case 'person':
      return story.cast?.find(({ id }) => id === named.id)?.name ?? named.id
    case 'quest':
      return story.quests?.find(({ id }) => id === named.id)?.name ?? named.id
    case 'ending':
      return itemName(story, 'endings', named.id)
    case 'stage':
      return itemName(story, 'stages', `${named.quest}.${named.id}`)
    case 'beat':
    case 'choice':
    case 'entry':
    case 'position':
      return plainId(named.id)
  }
}
