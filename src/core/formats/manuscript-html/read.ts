import type { Element, Nodes, Root } from 'hast'
import { fromHtml } from 'hast-util-from-html'
import { fail, ok, type Result } from '../../base/result'
import { anchorOf } from '../../story/reshape/script-paste'
import type { ReadManuscript } from '../manuscript'
import { manuscriptIn } from '../manuscript-markdown/tree'
import { textOf } from '../payload'
import { blocksOf, wordsIn } from './tree'

/** Reads a page of HTML as a manuscript, as browsers and word processors write it. */
export function readHtml(bytes: Uint8Array): Result<ReadManuscript> {
  const text = textOf(bytes)
  return text.ok ? manuscriptOfHtml(text.value) : text
}

export function manuscriptOfHtml(html: string): Result<ReadManuscript> {
  const root = fromHtml(html)
  linkByHeading(root)
  const read = manuscriptIn({ type: 'root', children: blocksOf(root.children) })
  return read.parts.length === 0 ? fail('there is no text in this file') : ok(read)
}

/** Links to marks inside headings become links to the headings. */
function linkByHeading(root: Root): void {
  const marks = new Map<string, string>()
  const links: Element[] = []
  const walk = (node: Nodes, heading: Element | undefined) => {
    if (!('children' in node)) return
    const element = node.type === 'element' ? node : undefined
    const within = element !== undefined && /^h[1-6]$/.test(element.tagName) ? element : heading
    const mark = element?.properties['id'] ?? element?.properties['name']
    if (within !== undefined && typeof mark === 'string') marks.set(mark, anchorOf(wordsIn(within)))
    if (element?.tagName === 'a') links.push(element)
    node.children.forEach((child) => walk(child, within))
  }
  walk(root, undefined)
  for (const { properties } of links) {
    const href = properties['href']
    const anchor = typeof href === 'string' && href.startsWith('#') ? marks.get(href.slice(1)) : undefined
    if (anchor !== undefined) properties['href'] = `#${anchor}`
  }
}
