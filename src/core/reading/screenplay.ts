import { plainId } from '../base/ids'
import type { Result } from '../base/result'
import { fail, ok } from '../base/result'
import { beatName } from '../story/beat-at'
import type { LinkedStory } from '../story/linked'
import { playThrough } from '../play/transcript'
import { formatText } from '../play/text'
import type { RouteItem } from '../story/types'
import type { Block, ReadingCopy } from './copy'

/** One route played through, as a screenplay: what is said and done, and what the player answers. */
export function screenplayCopy(
  story: LinkedStory,
  route: readonly RouteItem[],
  name: string,
  made: Date,
): Result<ReadingCopy> {
  const { steps, refused } = playThrough(story, route)
  if (refused !== undefined) return fail(`decision ${refused.step} of "${name}" can not be taken: ${refused.why}`)
  const blocks: Block[] = []
  let scene = -1
  let before = steps[0]!.state
  for (const { decision, beats, lines, state } of steps) {
    if (decision !== undefined) blocks.push({ of: 'took', text: told(story, before, decision) })
    const queue = [...lines]
    for (const address of beats) {
      const at = story.beatOf.get(address)
      if (at === undefined) continue
      if (story.beats[at]!.scene !== scene) {
        scene = story.beats[at]!.scene
        blocks.push({ of: 'scene', title: story.scenes[scene]!.title })
      }
      const own = (line: string) => line.startsWith(`${address}#`)
      if (queue.some((line) => own(line.address)))
        blocks.push({
          of: 'beat',
          address,
          title: beatName(story.doc, address),
        })
      while (queue.length > 0 && own(queue[0]!.address)) {
        const { name: who, manner, text, cues } = queue.shift()!
        blocks.push({
          of: 'line',
          ...(who === undefined ? {} : { who }),
          manner,
          text,
          depth: 0,
          remarks: cues.map(({ cue }) => story.cues.get(cue) ?? cue),
        })
      }
    }
    before = state
  }
  const last = story.beats[before.at]
  if (before.status === 'ended' && last !== undefined && last.ending >= 0)
    blocks.push({ of: 'ending', name: story.endings[last.ending]!.name })
  const { doc } = story
  return ok({
    title: doc.title,
    part: name,
    ...(doc.page?.author ? { author: doc.page.author } : {}),
    language: doc.language,
    made,
    blocks,
  })
}

function told(story: LinkedStory, state: Parameters<typeof formatText>[1], item: RouteItem): string {
  if ('choice' in item) {
    const choice = story.choices[story.choiceOf.get(item.choice) ?? -1]
    return choice === undefined ? item.choice : formatText(story, state, choice.text)
  }
  if ('word' in item) return item.word
  return Object.entries(item.given)
    .map(([id, value]) => `${plainId(id)} is ${String(value)}`)
    .join(', ')
}
