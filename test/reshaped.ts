import { freshId } from '../src/core/base/ids'
import type { Random } from '../src/core/base/random'
import type { Beat, Choice, Scene, Story } from '../src/core/story/types'

/** A story in which a beat or a choice came, went or was moved; roads to what went are left as they are. */
export function reshaped(story: Story, random: Random): Story {
  const filled = story.scenes.filter(({ beats }) => beats.length > 0)
  if (filled.length === 0) return story
  const scene = random.pick(filled)
  const { beats } = scene
  const at = random.below(beats.length)
  const beat = beats[at]!
  const fresh = (id: string, list: readonly { readonly id: string }[]) =>
    freshId(id, (wanted) => list.some((one) => one.id === wanted))
  const somewhere = () => {
    const { id, beats: some } = random.pick(filled)
    return `${id}.${random.pick(some).id}`
  }
  const choices = beat.choices ?? []
  const known = filled.flatMap((one) => one.beats.flatMap((some) => some.choices ?? []))
  /** What some choice does, on other conditions, elsewhere. */
  const choice = (to = somewhere()): Choice => {
    const { when, do: effects, who } = known.length === 0 ? NO_CHOICE : random.pick(known)
    const id = fresh('more', choices)
    return { id, text: 'More', to, ...(when && { when }), ...(effects && { do: effects }), ...(who && { who }) }
  }
  const put = (changed: Beat, ...more: Beat[]): Scene => ({ ...scene, beats: beats.toSpliced(at, 1, changed, ...more) })
  const made = (): Scene => {
    const id = fresh(random.chance(0.3) ? 'gone' : 'more', beats)
    const own: Choice = { ...choice(), id: 'go' }
    const more: Beat = random.chance(0.7) ? { id, choices: [own] } : { id, onward: [{ to: somewhere() }] }
    const way: Choice = { ...choice(`${scene.id}.${id}`), when: 'true' }
    return put(random.chance(0.7) ? { ...beat, choices: [way, ...choices] } : beat, more)
  }
  const changes: (() => Scene)[] = [
    made,
    made,
    () => (filled.length + beats.length > 2 ? { ...scene, beats: beats.toSpliced(at, 1) } : made()),
    () => ({ ...scene, beats: beats.toSpliced(at, 1).toSpliced(random.below(beats.length), 0, beat) }),
    () => put({ ...beat, choices: choices.toSpliced(random.below(choices.length + 1), 0, choice()) }),
    () => put({ ...beat, choices: [...choices, { ...choice(), once: true }] }),
    () => put({ ...beat, choices: choices.toSpliced(random.below(choices.length + 1), 1) }),
    () => put({ ...beat, choices: choices.toReversed() }),
    // a road to what may come later, and a condition that asks for it
    () => put({ ...beat, choices: [...choices, choice(`${scene.id}.gone`)] }),
    () => put({ ...beat, choices: [...choices, { ...choice(), when: `visits('${scene.id}.more') < 2` }] }),
  ]
  const changed = random.pick(changes)()
  return { ...story, scenes: story.scenes.map((one) => (one === scene ? changed : one)) }
}

const NO_CHOICE: Partial<Choice> = {}
