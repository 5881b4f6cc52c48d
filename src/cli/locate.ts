import { findNodeAtLocation, parseTree, type JSONPath, type Node } from 'jsonc-parser'
import type { FilePlace } from '../core/formats/survey-sarif/write'
import type { Finding } from '../core/survey/result'
import type { Story } from '../core/story/types'

/** Finds the places of findings in the text of a story file. */
export function locator(text: string, story: Story): (finding: Finding) => FilePlace {
  const root = parseTree(text.replace(/^\uFEFF/, ''))
  const starts = [0, ...[...text.matchAll(/\n/g)].map(({ index }) => index + 1)]
  const place = (node: Node): FilePlace => {
    let low = 0
    let high = starts.length - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (starts[middle]! <= node.offset) low = middle
      else high = middle - 1
    }
    return { line: low + 1, column: node.offset - starts[low]! + 1 }
  }
  return (finding) => {
    const path = pathOf(story, finding)
    for (let length = path.length; root !== undefined && length >= 0; length -= 1) {
      const node = findNodeAtLocation(root, path.slice(0, length))
      if (node !== undefined) return place(node)
    }
    return { line: 1, column: 1 }
  }
}

/** The path in the document to what a finding is about, as far as it can be told. */
function pathOf(story: Story, { kind, key }: Finding): JSONPath {
  const [first, second] = key
  if (kind === 'overrun' || kind === 'unset-text') return addressPath(story, second!)
  if (kind === 'problem' || kind === 'always-open') {
    const path =
      first === 'story'
        ? []
        : kind === 'problem' && !first!.includes('.')
          ? itemPath(story, first!)
          : addressPath(story, first!)
    return [...path, ...partPath(second!)]
  }
  if (kind === 'stranded-stage' || kind === 'left-open') return addressPath(story, `${first}.${second}`)
  return first!.includes('.') ? addressPath(story, first!) : itemPath(story, first!)
}

function partPath(part: string): JSONPath {
  const counted = /^(do|moves)(\d+)$/.exec(part)
  if (counted !== null) return [counted[1]!, Number(counted[2]) - 1]
  return part === 'into' || part === 'prompt' ? ['ask', part] : [part]
}

function itemPath(story: Story, id: string): JSONPath {
  for (const list of ['ledger', 'cast', 'quests', 'endings', 'promises', 'routes', 'scenes'] as const) {
    const at = story[list]?.findIndex((item) => item.id === id) ?? -1
    if (at !== -1) return [list, at]
  }
  for (const [s, scene] of story.scenes.entries()) {
    const at = scene.ledger?.findIndex((entry) => entry.id === id) ?? -1
    if (at !== -1) return ['scenes', s, 'ledger', at]
  }
  return []
}

const LISTS: Readonly<Record<string, string>> = {
  redirect: 'redirects',
  arrive: 'arrive',
  onward: 'onward',
  line: 'lines',
  variant: 'firstOf',
}

/** `scene.beat.choice#2`, `scene.beat#line2.variant1.line1`, `quest.stage`. */
function addressPath(story: Story, address: string): JSONPath {
  const [place, inner] = address.split('#')
  const [scene, beat, choice] = place!.split('.')
  const s = story.scenes.findIndex(({ id }) => id === scene)
  if (s === -1) {
    const q = story.quests?.findIndex(({ id }) => id === scene) ?? -1
    const stage = story.quests?.[q]?.stages.findIndex(({ id }) => id === beat) ?? -1
    return q === -1 ? [] : stage === -1 ? ['quests', q] : ['quests', q, 'stages', stage]
  }
  const b = story.scenes[s]!.beats.findIndex(({ id }) => id === beat)
  if (b === -1) return ['scenes', s]
  const path: JSONPath = ['scenes', s, 'beats', b]
  if (choice !== undefined) {
    path.push('choices', story.scenes[s]!.beats[b]!.choices?.findIndex(({ id }) => id === choice) ?? 0)
    if (inner !== undefined) path.push('to', Number(inner) - 1)
    return path
  }
  for (const part of inner?.split('.') ?? []) {
    const [, name, number] = /^([a-z]+)(\d+)$/.exec(part) ?? []
    // the lines of a variant have the key that the lines of a beat have
    path.push(LISTS[name!] ?? 'lines', Number(number) - 1)
  }
  return path
}
