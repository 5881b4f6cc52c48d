import { randomStory } from '../../../../bench/stories/random'
import { linkStory } from '../../story/link'
import { usesIn } from '../../story/uses'
import { usedEntries } from './used-entries'

test('an entry is read and written by the story where it is read and written somewhere in it', () => {
  for (let seed = 1; seed <= 200; seed += 1) {
    const story = linkStory(randomStory(seed))
    const { read, written } = usedEntries(story)
    const ids = (how: 'read' | 'write') =>
      [...new Set(usesIn(story).flatMap((use) => (use.of === 'entry' && use.how === how ? [use.id] : [])))].sort()
    const marked = (events: Uint8Array) =>
      story.entries
        .filter(({ index }) => events[index] === 1)
        .map(({ id }) => id)
        .sort()
    expect({ seed, read: marked(read), written: marked(written) }).toEqual({
      seed,
      read: ids('read'),
      written: ids('write'),
    })
  }
})
