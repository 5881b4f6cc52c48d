import { findNodeAtLocation, parseTree, type JSONPath, type Node } from 'jsonc-parser'
import type { FilePlace } from '../core/formats/survey-sarif/write'
import { parseAddress, parseStage, type StepKind } from '../core/base/address'
import { never } from '../core/base/assert'
import { lastAtMost } from '../core/base/last-at-most'
import { FINDING_KINDS, type Finding, type KeyColumn } from '../core/survey/findings/finding'
import type { Story } from '../core/story/types'

/** Finds the places of findings in the text of a story file. */
export function locator(text: string, story: Story): (finding: Finding) => FilePlace {
  const root = parseTree(text.replace(/^\uFEFF/, ''))
  const starts = [0, ...[...text.matchAll(/\n/g)].map(({ index }) => index + 1)]
  const place = (node: Node): FilePlace => {
    const line = lastAtMost(starts, starts.length, node.offset)
    return { line: line + 1, column: node.offset - starts[line]! + 1 }
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

/** The path in the document to what a finding is about, as far as it can be told: the last column of its key that names a place. */
function pathOf(story: Story, { kind, key }: Finding): JSONPath {
  let path: JSONPath = []
  FINDING_KINDS[kind].keyedBy.forEach((column: KeyColumn, at) => {
    const name = key[at]!
    switch (column) {
      case 'address':
        path = addressPath(story, name) ?? []
        break
      case 'item':
        path = addressPath(story, name) ?? stagePath(story, name) ?? declaredPath(story, name)
        break
      case 'part':
        path = [...path, ...partPath(name)]
        break
      case 'stage':
        path = stagePath(story, `${key[at - 1]}.${name}`) ?? path
        break
      case 'quest':
      case 'entry':
      case 'promise':
      case 'route':
        path = declaredPath(story, name)
        break
      case 'from':
      case 'to':
        break
      default:
        never(column)
    }
  })
  return path
}

/** `when`, `do2`, `moves1`: what is counted stands in a list. */
function partPath(part: string): JSONPath {
  const counted = /^(do|moves)(\d+)$/.exec(part)
  if (counted !== null) return [counted[1]!, Number(counted[2]) - 1]
  return part === 'into' || part === 'prompt' ? ['ask', part] : [part]
}

/** What the story declares under an id; of a scene's own entries too. */
function declaredPath(story: Story, id: string): JSONPath {
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

function stagePath(story: Story, address: string): JSONPath | undefined {
  const named = parseStage(address)
  const q = story.quests?.findIndex(({ id }) => id === named?.quest) ?? -1
  if (q === -1) return undefined
  const stage = story.quests![q]!.stages.findIndex(({ id }) => id === named?.stage)
  return stage === -1 ? ['quests', q] : ['quests', q, 'stages', stage]
}

/** The list in which a step of an address counts. */
const LISTS: Readonly<Record<StepKind, string>> = {
  redirect: 'redirects',
  arrive: 'arrive',
  onward: 'onward',
  line: 'lines',
  variant: 'firstOf',
  turn: 'inTurn',
  rule: 'to',
}

/** As far as there is what it names; undefined where not even its scene is there. */
function addressPath(story: Story, text: string): JSONPath | undefined {
  const address = parseAddress(text)
  const s = story.scenes.findIndex(({ id }) => id === address?.scene)
  if (address === undefined || s === -1) return undefined
  const b = story.scenes[s]!.beats.findIndex(({ id }) => id === address.beat)
  if (b === -1) return ['scenes', s]
  const path: JSONPath = ['scenes', s, 'beats', b]
  if (address.choice !== undefined) {
    const c = story.scenes[s]!.beats[b]!.choices?.findIndex(({ id }) => id === address.choice) ?? -1
    if (c === -1) return path
    path.push('choices', c)
  }
  return [...path, ...address.steps.flatMap(({ of, number }) => [LISTS[of], number - 1])]
}
