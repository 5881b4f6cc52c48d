import type { Nodes, PhrasingContent } from 'mdast'
import { fail, ok, type Result } from '../../base/result'
import type { IncomingFile } from '../../texts/files'
import type { IncomingText } from '../../texts/incoming'
import { treeOf } from '../manuscript-markdown/parse'
import { plainOf, spokenBy } from '../manuscript-markdown/tree'
import { textOf } from '../payload'

const KEY = /^<!--\s*((?:line|choice|prompt)\/\S+)(?:\s+([0-9a-f]{1,8}))?\s*-->$/

/** Texts of a reading copy in Markdown that was edited: what stands before a key. */
export function readProofs(bytes: Uint8Array): Result<IncomingFile> {
  const text = textOf(bytes)
  if (!text.ok) return text
  const texts: IncomingText[] = []
  const walk = (node: Nodes) => {
    if (node.type !== 'paragraph') {
      if ('children' in node) node.children.forEach(walk)
      return
    }
    // an editor may have joined two paragraphs: each text goes up to its key
    let from = 0
    node.children.forEach((child, at) => {
      const key = child.type === 'html' ? KEY.exec(child.value) : null
      if (key === null) return
      texts.push({
        key: key[1]!,
        text: wordsOf(node.children.slice(from, at)),
        ...(key[2] === undefined ? {} : { was: key[2] }),
      })
      from = at + 1
    })
  }
  walk(treeOf(text.value))
  return texts.length === 0
    ? fail('there is no text with a key in this file; only a Markdown copy that was saved here has them')
    : ok({ texts })
}

function wordsOf(children: readonly PhrasingContent[]): string {
  const { content } = spokenBy(children)
  const text = content.map(plainOf).join('')
  // one blank stands between a text and its key
  return text.endsWith(' ') ? text.slice(0, -1) : text
}
