import { freshId } from '../src/core/base/ids'
import type { Random } from '../src/core/base/random'
import { getList } from '../src/core/story/changes/list'
import type { Change, Item, ListPath } from '../src/core/story/changes/types'
import type { Story } from '../src/core/story/types'

/** A change that can be made to the story: any operation on any of its lists. */
export function randomChange(story: Story, random: Random): Change {
  if (random.chance(0.15)) {
    return {
      op: 'batch',
      changes: [{ op: 'set-story', values: { title: `Title ${random.below(100)}` } }, oneChange(story, random)],
    }
  }
  if (random.chance(0.1))
    return { op: 'set-story', values: { notes: random.chance(0.5) ? null : 'noted', start: `s${random.below(3)}.b0` } }
  if (random.chance(0.1) && story.scenes.length > 0) {
    return {
      op: 'set-scene',
      scene: random.pick(story.scenes).id,
      values: { title: `Scene ${random.below(100)}`, notes: random.chance(0.5) ? null : 'noted' },
    }
  }
  if (random.chance(0.05))
    return { op: 'set-story', values: { textLimit: random.chance(0.5) ? null : 90 + random.below(3) } }
  if (random.chance(0.05)) {
    const item = { id: `en/f${random.below(9)}`, text: `Said ${random.below(9)}` }
    return { op: 'insert', in: { list: 'recordings' }, at: 0, item }
  }
  if (random.chance(0.05)) {
    const item = { id: `t${random.below(9)}`, name: `Term ${random.below(9)}` }
    return { op: 'insert', in: { list: 'terms' }, at: 0, item }
  }
  if (random.chance(0.05))
    return { op: 'set-page', values: { blurb: random.chance(0.4) ? null : `Blurb ${random.below(9)}`, ground: 'sea' } }
  if (random.chance(0.1)) {
    const value = random.chance(0.3) ? null : { text: `Text ${random.below(100)}` }
    return { op: 'set-texts', language: random.pick(['de', 'fr']), values: { [`s0.b${random.below(6)}`]: value } }
  }
  return oneChange(story, random)
}

function oneChange(story: Story, random: Random): Change {
  const paths: ListPath[] = [
    { list: 'cast' },
    { list: 'ledger' },
    { list: 'quests' },
    { list: 'endings' },
    { list: 'promises' },
    { list: 'routes' },
    { list: 'terms' },
    { list: 'recordings' },
    { list: 'scenes' },
    ...story.scenes.flatMap(({ id }): ListPath[] => [
      { list: 'beats', scene: id },
      { list: 'beats', scene: id },
      { list: 'sceneLedger', scene: id },
    ]),
  ]
  const path = random.pick(paths)
  const list = getList(story, path)
  const items = list.ok ? list.value : []
  if (items.length === 0)
    return path.list === 'sceneLedger'
      ? { op: 'insert', in: path, at: 0, item: { id: `only_here${random.below(9)}`, kind: 'flag' } }
      : { op: 'set-story', values: { title: 'Nothing there' } }
  const at = random.below(items.length)
  const { id } = items[at]!
  switch (random.below(4)) {
    case 0:
      return { op: 'insert', in: path, at: random.below(items.length + 1), item: copyOf(items[at]!, items) }
    case 1:
      return { op: 'remove', in: path, id, at }
    case 2:
      return {
        op: 'replace',
        in: path,
        id,
        at,
        item: { ...random.pick(items), id, notes: `note ${random.below(100)}` } as Item,
      }
    default:
      return { op: 'move', in: path, id, at, to: random.below(items.length) }
  }
}

function copyOf(item: Item, items: readonly Item[]): Item {
  return { ...item, id: freshId(item.id, (id) => items.some((one) => one.id === id)) }
}

/** A story as it stands in a file: keys without a value are none. */
export function written(story: Story): unknown {
  return JSON.parse(JSON.stringify(story))
}
