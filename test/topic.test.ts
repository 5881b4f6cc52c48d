import { randomStory } from '../bench/stories/random'
import { seededRandom, type Random } from '../src/core/base/random'
import { applyChange } from '../src/core/story/changes/apply'
import type { Change } from '../src/core/story/changes/types'
import { rename, type Named } from '../src/core/story/rename/rename'
import { moveBeat } from '../src/core/story/reshape/move-beat'
import { joinBeats, splitBeat } from '../src/core/story/reshape/split-join'
import { followTalk, parseTopic, printTopic, type Followed } from '../src/core/story/topic'
import { plainLinesIn, type Beat, type Story } from '../src/core/story/types'
import { seeds } from './seeds'

/** A story in which every beat, line and choice says which one it is. */
function marked(story: Story): Story {
  let count = 0
  const mark = () => `[${(count += 1)}]`
  const copy = JSON.parse(JSON.stringify(story)) as Story
  for (const { beats } of copy.scenes)
    for (const beat of beats as (Beat & { title?: string })[]) {
      beat.title = `Beat ${mark()}`
      for (const line of beat.lines ?? [])
        for (const { line: one } of plainLinesIn(line)) {
          one.text += ` ${mark()}`
          // some have an id twice, which is a fault of theirs
          if (one.id !== undefined) one.id = `l${count}`
        }
      for (const choice of beat.choices ?? []) choice.text += ` ${mark()}`
    }
  return copy
}

/** What stands where, by what it says of itself. */
function places(story: Story): Map<string, string> {
  const found = new Map<string, string>()
  const put = (text: string, topic: string) => found.set(/\[\d+\]/.exec(text)?.[0] ?? text, topic)
  for (const { id: scene, beats } of story.scenes)
    for (const beat of beats) {
      const own = `at ${scene}.${beat.id}`
      put(beat.title!, own)
      for (const [at, line] of (beat.lines ?? []).entries())
        for (const { line: one, suffix } of plainLinesIn(line)) put(one.text, `${own}#line${at + 1}${suffix}`)
      for (const choice of beat.choices ?? []) put(choice.text, `${own}.${choice.id}`)
    }
  return found
}

function anyChange(story: Story, random: Random): Change | undefined {
  const scene = random.pick(story.scenes)
  const beat = scene.beats.length === 0 ? undefined : random.pick(scene.beats)
  if (beat === undefined) return undefined
  const renamed = (named: Named) => {
    const made = rename(story, named, `n${random.below(1e6)}`)
    return made.ok ? made.value.change : undefined
  }
  const withParts = (parts: Partial<Beat>): Change => ({
    op: 'replace',
    in: { list: 'beats', scene: scene.id },
    id: beat.id,
    at: scene.beats.indexOf(beat),
    item: { ...beat, ...parts },
  })
  const replaced = (changed: Beat['lines']) => withParts({ lines: changed })
  const lines = [...(beat.lines ?? [])]
  const at = random.below(lines.length + 1)
  switch (random.below(10)) {
    case 0:
      return renamed({ of: 'scene', id: scene.id })
    case 1:
      return renamed({ of: 'beat', scene: scene.id, id: beat.id })
    case 2: {
      const choice = beat.choices?.[0]
      return choice && renamed({ of: 'choice', scene: scene.id, beat: beat.id, id: choice.id })
    }
    case 3: {
      const to = random.pick(story.scenes)
      const moved = moveBeat(story, { scene: scene.id, id: beat.id }, { scene: to.id, at: 0 })
      return moved.ok ? moved.value.change : undefined
    }
    case 4: {
      const split = splitBeat(story, { scene: scene.id, id: beat.id }, at)
      return split.ok ? split.value.change : undefined
    }
    case 5: {
      const joined = joinBeats(story, { scene: scene.id, id: beat.id })
      return joined.ok ? joined.value : undefined
    }
    case 6:
      return replaced([...lines.slice(0, at), { text: 'Something new.' }, ...lines.slice(at)])
    case 7:
      return at < lines.length ? replaced(lines.filter((_, index) => index !== at)) : undefined
    case 8: {
      const [first, ...choices] = beat.choices ?? []
      return first && withParts({ choices })
    }
    default: {
      if (at >= lines.length) return undefined
      const [moved] = lines.splice(at, 1)
      const to = random.below(lines.length + 1)
      return replaced([...lines.slice(0, to), moved!, ...lines.slice(to)])
    }
  }
}

test('what is talked about is found again after renames, moves, splits, joins and edits around it, and after taking them back', () => {
  let followed = 0
  let found = 0
  for (const seed of seeds(80)) {
    const random = seededRandom(seed)
    let story = marked(randomStory(seed, 'tiny'))
    // from what was begun to where it is now
    const talked = new Map<string, Followed>([...places(story)].map(([mark, topic]) => [mark, { topic }]))
    for (let step = 0; step < 8; step += 1) {
      const change = anyChange(story, random)
      const applied = change === undefined ? undefined : applyChange(story, change)
      if (applied?.ok !== true) continue
      const path = random.chance(0.3) ? [applied.value.story, undefined] : [applied.value.story]
      for (const next of path) {
        const back = next === undefined ? applyChange(story, applied.value.inverse) : undefined
        const after = next ?? (back!.ok ? back!.value.story : story)
        const there = places(after)
        for (const [mark, talk] of talked) {
          const now = followTalk(story, after, talk)
          talked.set(mark, now)
          const expected = there.get(mark)
          if (expected === undefined) {
            // whatever stands there now is not taken for it
            expect([...there.values()].includes(now.topic) && /#|\..*\./.test(now.topic)).toBe(false)
            continue
          }
          expect({ seed, step, talk, topic: now.topic }).toEqual({ seed, step, talk, topic: expected })
          followed += 1
          if (talk.lost !== undefined) found += 1
        }
        story = after
      }
    }
  }
  expect(followed).toBeGreaterThan(5_000)
  expect(found).toBeGreaterThan(10)
})

test('entries, quests, people and endings are followed by name, findings by what they are about', () => {
  const story = marked(randomStory(3))
  const named = [
    ['entry', story.ledger![0]!.id],
    ['quest', story.quests![0]!.id],
    ['ending', story.endings![0]!.id],
    ['scene', story.scenes[0]!.id],
  ] as const
  for (const [of, id] of named) {
    const made = rename(story, { of, id }, 'another')
    if (!made.ok) throw new Error(made.error)
    const applied = applyChange(story, made.value.change)
    if (!applied.ok) throw new Error(applied.error)
    expect(followTalk(story, applied.value.story, { topic: `${of} ${id}` }).topic).toBe(`${of} another`)
    expect(followTalk(applied.value.story, story, { topic: `${of} another` }).topic).toBe(`${of} ${id}`)
  }
  const { id: scene, beats } = story.scenes[0]!
  const made = rename(story, { of: 'beat', scene, id: beats[0]!.id }, 'another')
  const applied = made.ok ? applyChange(story, made.value.change) : undefined
  if (!applied?.ok) throw new Error('the beat can be renamed')
  const finding = `finding unreached beat ${scene}.${beats[0]!.id}`
  expect(followTalk(story, applied.value.story, { topic: finding }).topic).toBe(
    `finding unreached beat ${scene}.another`,
  )
})

test('what is no topic is none', () => {
  for (const topic of ['at quay.morning#line2', 'at quay.morning.pay', 'entry tide', 'finding dead-end quay.morning'])
    expect(printTopic(parseTopic(topic)!)).toBe(topic)
  for (const none of ['', 'at', 'at quay', 'entry', 'entry a b', 'colour red', 'quest  x'])
    expect(parseTopic(none)).toBeUndefined()
})
