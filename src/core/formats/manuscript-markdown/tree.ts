import type { Nodes, Paragraph, PhrasingContent, Root, RootContent } from 'mdast'
import { choiceTyped, lineTyped, type ScriptPart } from '../../story/reshape/script-paste'
import type { ReadManuscript } from '../manuscript'

/**
 * What a document with headings and lists comes to: headings are scenes and beats, list items choices, links to headings
 * their destinations, quotations notes. A single heading of the first rank is the title; of the others the highest rank is
 * that of scenes, where there is more than one.
 */
export function manuscriptIn(root: Root): ReadManuscript {
  const headings = root.children.filter((node) => node.type === 'heading')
  const ranks = [...new Set(headings.map(({ depth }) => depth))].sort()
  const highest = headings.filter(({ depth }) => depth === ranks[0])
  const isTitled =
    ranks.length > 1 && highest.length === 1 && root.children.find(({ type }) => type !== 'html') === highest[0]
  const below = isTitled ? ranks.slice(1) : ranks
  const sceneRank = below.length > 1 ? below[0] : undefined
  const parts: ScriptPart[] = []
  for (const node of root.children) {
    if (node.type === 'heading') {
      if (isTitled && node === highest[0]) continue
      const title = plainOf(node).trim()
      if (title !== '') parts.push({ of: node.depth === sceneRank ? 'scene' : 'beat', title })
    } else parts.push(...partsOf(node))
  }
  return { ...(isTitled ? { title: plainOf(highest[0]!).trim() } : {}), parts }
}

function partsOf(node: RootContent): ScriptPart[] {
  const textOf = (text: string): ScriptPart[] => (text.trim() === '' ? [] : [lineTyped(text.trim())])
  if (node.type === 'paragraph') return lineOf(node)
  if (node.type === 'code') return node.value.trim() === '' ? [] : [{ of: 'line', isAction: false, text: node.value }]
  if (node.type === 'table') return node.children.flatMap((row) => textOf(row.children.map(plainOf).join(' ')))
  if (node.type === 'blockquote') {
    const text = node.children.map(plainOf).join('\n').trim()
    return text === '' ? [] : [{ of: 'note', text }]
  }
  if (node.type !== 'list') return []
  return node.children.flatMap(({ children }) => {
    const [first, ...rest] = children
    return first?.type === 'paragraph' ? [...choiceOf(first), ...rest.flatMap(partsOf)] : children.flatMap(partsOf)
  })
}

/** A paragraph is a line: who speaks stands before it in bold or with a colon; what is slanted as a whole is done. */
function lineOf(paragraph: Paragraph): ScriptPart[] {
  const { speaker, content } = spokenBy(paragraph.children)
  const text = content.map(plainOf).join('').trim()
  if (text === '') return []
  const isSlanted = content.every((one) => one.type === 'emphasis' || plainOf(one).trim() === '')
  if (speaker === undefined) {
    const typed = lineTyped(text)
    return [isSlanted && typed.of === 'line' ? { ...typed, isAction: true } : typed]
  }
  return [{ of: 'line', speaker, isAction: isSlanted, text }]
}

function choiceOf(paragraph: Paragraph): ScriptPart[] {
  const { content } = spokenBy(paragraph.children)
  const text = content.map(plainOf).join('').trim()
  const link = content.find((one) => one.type === 'link' && one.url.startsWith('#'))
  const to = link?.type === 'link' ? addressed(link.url.slice(1)) : undefined
  return text === '' ? [] : [{ ...choiceTyped(text), ...(to === undefined ? {} : { to }) }]
}

function addressed(anchor: string): string {
  try {
    return decodeURIComponent(anchor)
  } catch {
    return anchor
  }
}

/** Who is named in bold before a text, with the rest of it. */
export function spokenBy(children: readonly PhrasingContent[]): {
  readonly speaker?: string
  readonly content: readonly PhrasingContent[]
} {
  const [first, second] = children
  if (first?.type !== 'strong') return { content: children }
  const name = plainOf(first).trim()
  const next = second?.type === 'text' ? second.value : ''
  if (name.endsWith(':') && name.length > 1)
    return { speaker: name.slice(0, -1).trim(), content: withoutStart(children.slice(1), /^\s+/) }
  if (name !== '' && /^\s*:/.test(next)) return { speaker: name, content: withoutStart(children.slice(1), /^\s*:\s*/) }
  return { content: children }
}

function withoutStart(content: readonly PhrasingContent[], start: RegExp): PhrasingContent[] {
  const [first, ...rest] = content
  if (first?.type !== 'text') return [...content]
  return [{ ...first, value: first.value.replace(start, '') }, ...rest]
}

/** The words of a node: rows that are only broken in the source are one, comments nothing. */
export function plainOf(node: Nodes): string {
  if (node.type === 'break') return '\n'
  if (node.type === 'text') return node.value.replaceAll(/[ \t]*\n[ \t]*/g, ' ').replaceAll('\u200b', '')
  if (node.type === 'inlineCode' || node.type === 'code') return node.value
  if (node.type === 'image') return node.alt ?? ''
  if ('children' in node) return node.children.map(plainOf).join('')
  return ''
}
