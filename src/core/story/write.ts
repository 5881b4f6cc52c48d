import type { Story } from './types'

/** The text of a story file: JSON, two spaces deep, a newline at the end. */
export function writeStory(story: Story): string {
  return [...writeStoryInParts(story, 2)].join('')
}

/** The text of a story in parts of some kilobytes, so that whoever writes a large one can do other things between. */
export function* writeStoryInParts(story: Story, indent: 0 | 2): Generator<string> {
  yield* writeObject(story, indent, 0, (key, value, depth) => {
    if (key !== 'scenes') return writeItems(value, indent, depth)
    return writeList(value, indent, depth, (scene, inner) =>
      writeObject(scene, indent, inner, (_, list, deeper) => writeItems(list, indent, deeper)),
    )
  })
  if (indent > 0) yield '\n'
}

type Lists = (key: string, value: readonly object[], depth: number) => Generator<string>

function* writeObject(object: object, indent: number, depth: number, lists: Lists): Generator<string> {
  const entries = Object.entries(object).filter(([, value]) => value !== undefined)
  if (entries.length === 0) return yield '{}'
  let before = `{${line(indent, depth + 1)}`
  for (const [key, value] of entries) {
    yield `${before}${JSON.stringify(key)}:${indent > 0 ? ' ' : ''}`
    before = `,${line(indent, depth + 1)}`
    const isList = Array.isArray(value) && value.length > 0 && value.every((item) => typeof item === 'object' && item)
    if (isList) yield* lists(key, value as object[], depth + 1)
    else yield text(value, indent, depth + 1)
  }
  yield `${line(indent, depth)}}`
}

function writeItems(items: readonly object[], indent: number, depth: number): Generator<string> {
  return writeList(items, indent, depth, function* (item, inner) {
    yield text(item, indent, inner)
  })
}

function* writeList(
  items: readonly object[],
  indent: number,
  depth: number,
  write: (item: object, depth: number) => Generator<string>,
): Generator<string> {
  let before = `[${line(indent, depth + 1)}`
  for (const item of items) {
    yield before
    yield* write(item, depth + 1)
    before = `,${line(indent, depth + 1)}`
  }
  yield `${line(indent, depth)}]`
}

function line(indent: number, depth: number): string {
  return indent === 0 ? '' : `\n${' '.repeat(indent * depth)}`
}

/** A value as JSON writes it, moved in; a text's own line breaks are escaped, so each break is one between values. */
function text(value: unknown, indent: number, depth: number): string {
  const written = JSON.stringify(value, null, indent)
  return depth === 0 || indent === 0 ? written : written.replaceAll('\n', line(indent, depth))
}
