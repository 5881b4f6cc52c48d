import { plainId } from '../../../core/base/ids'
import { parseAddress } from '../../../core/base/address'
import { beatAt } from '../../../core/story/beat-at'
import { parseTopic } from '../../../core/story/topic'
import { plainLinesIn, type Story } from '../../../core/story/types'
import { FINDING_KINDS, type FindingKind } from '../../../core/survey/findings/finding'
import { sayAddress } from '../../../session/names'

/** What a topic is called on the page. */
export function sayTopic(story: Story, text: string): string {
  const topic = parseTopic(text)
  if (topic === undefined) return text
  const [name = '', ...rest] = topic.names
  const named = (list: readonly { id: string; name?: string | undefined }[] | undefined) =>
    list?.find(({ id }) => id === name)?.name ?? plainId(name)
  switch (topic.of) {
    case 'at':
      return sayAddress(name, story)
    case 'scene':
      return `the scene ${story.scenes.find(({ id }) => id === name)?.title ?? plainId(name)}`
    case 'entry':
      return `the entry ${named([...(story.ledger ?? []), ...story.scenes.flatMap(({ ledger = [] }) => ledger)])}`
    case 'quest':
      return `the quest ${named(story.quests)}`
    case 'person':
      return named(story.cast)
    case 'ending':
      return `the ending ${named(story.endings)}`
    case 'finding': {
      const kind = FINDING_KINDS[name as FindingKind] as { readonly name: string } | undefined
      return `the finding: ${kind?.name ?? name}, ${rest.map((part) => sayAddress(part, story)).join(', ')}`
    }
  }
}

/** Whether what is talked about is there. */
export function isThere(story: Story, text: string): boolean {
  const topic = parseTopic(text)
  if (topic === undefined) return false
  const name = topic.names[0]!
  if (topic.of === 'finding') return true
  if (topic.of === 'at') return beatAt(story, name) !== undefined
  const lists = {
    scene: [story.scenes],
    entry: [story.ledger, ...story.scenes.map(({ ledger }) => ledger)],
    quest: [story.quests],
    person: [story.cast],
    ending: [story.endings],
  }[topic.of]
  return lists.some((list) => list?.some(({ id }) => id === name))
}

/** What a row reads, to be kept with what is said of it. */
export function quoteOf(story: Story, text: string): string {
  const topic = parseTopic(text)
  if (topic?.of !== 'at') return ''
  const address = parseAddress(topic.names[0]!)
  const beat = beatAt(story, topic.names[0]!)
  if (address?.choice !== undefined) return beat?.choices?.find(({ id }) => id === address.choice)?.text ?? ''
  const [first, ...rest] = address?.steps ?? []
  const line = first?.of === 'line' ? beat?.lines?.[first.number - 1] : undefined
  const suffix = rest.map(({ of, number }) => `.${of}${number}`).join('')
  return line === undefined
    ? ''
    : (plainLinesIn(line).find((one) => one.suffix === suffix)?.line.text ?? '').slice(0, 500)
}
