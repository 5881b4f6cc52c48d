import { seededRandom } from '../../src/core/base/random'
import type { Beat, Story } from '../../src/core/story/types'

/** A story in which about half of the choices approach somebody; made by a seed. */
export function withPeople(story: Story, seed: number): Story {
  const random = seededRandom(seed * 7 + 1)
  const cast = [
    { id: 'ann', name: 'Ann' },
    { id: 'bo', name: 'Bo' },
  ]
  const scenes = story.scenes.map((scene) => ({
    ...scene,
    beats: scene.beats.map((beat): Beat => ({
      ...beat,
      ...(beat.choices === undefined
        ? {}
        : {
            choices: beat.choices.map((choice) =>
              random.chance(0.5) ? { ...choice, who: random.pick(cast).id } : choice,
            ),
          }),
    })),
  }))
  return { ...story, cast, scenes }
}
