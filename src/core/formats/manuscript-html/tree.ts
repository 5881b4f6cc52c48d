import type { Element, ElementContent, Nodes, Root, RootContent } from 'hast'
import type { BlockContent, ListItem, PhrasingContent, RootContent as Written } from 'mdast'

const LEFT_OUT = new Set([
  'script',
  'style',
  'head',
  'template',
  'noscript',
  'svg',
  'iframe',
  'title',
  'button',
  'select',
])
const BLOCKS = new Set(
  'address article aside blockquote body center dd details div dl dt fieldset figcaption figure footer form h1 h2 h3 h4 h5 h6 header hr html li main nav ol p pre section table tbody td tfoot th thead tr ul'.split(
    ' ',
  ),
)

type Child = RootContent | ElementContent

/** What a page says, as a document of headings, paragraphs, lists and quotations; all else is only what it holds. */
export function blocksOf(children: readonly Child[]): Written[] {
  const blocks: Written[] = []
  let run: Child[] = []
  const endRun = () => {
    const words = phrasesOf(run)
    if (words.length > 0) blocks.push({ type: 'paragraph', children: words })
    run = []
  }
  for (const child of children) {
    if (child.type !== 'element' || !holdsBlocks(child)) run.push(child)
    else {
      endRun()
      blocks.push(...blockOf(child))
    }
  }
  endRun()
  return blocks
}

function blockOf(element: Element): Written[] {
  const { tagName, children } = element
  if (LEFT_OUT.has(tagName)) return []
  if (/^h[1-6]$/.test(tagName))
    return [{ type: 'heading', depth: Number(tagName[1]) as 1, children: phrasesOf(children) }]
  if (tagName === 'pre') return [{ type: 'code', value: wordsIn(element).replace(/\n$/, '') }]
  if (tagName === 'blockquote') return [{ type: 'blockquote', children: blocksOf(children) as BlockContent[] }]
  if (tagName === 'ul' || tagName === 'ol')
    return [{ type: 'list', children: children.flatMap((one) => (one.type === 'element' ? itemsOf(one) : [])) }]
  if (tagName === 'tr') {
    const words = children
      .filter((one) => one.type === 'element')
      .flatMap((cell) => [...phrasesOf(cell.children), space])
    return words.every((one) => one === space) ? [] : [{ type: 'paragraph', children: words.slice(0, -1) }]
  }
  return blocksOf(children)
}

const space: PhrasingContent = { type: 'text', value: ' ' }

/** A list that stands beside its items, as some programs write it, belongs to the list. */
function itemsOf(element: Element): ListItem[] {
  if (element.tagName === 'li') return [{ type: 'listItem', children: blocksOf(element.children) as BlockContent[] }]
  return element.children.flatMap((one) => (one.type === 'element' ? itemsOf(one) : []))
}

/** Whether it stands by itself: an element that is a block, or that one is in. */
function holdsBlocks(element: Element): boolean {
  if (BLOCKS.has(element.tagName) || LEFT_OUT.has(element.tagName)) return true
  return element.children.some((child) => child.type === 'element' && holdsBlocks(child))
}

function phrasesOf(children: readonly Child[]): PhrasingContent[] {
  const phrases = children.flatMap((child): PhrasingContent[] => {
    if (child.type === 'text') return [{ type: 'text', value: child.value.replaceAll(/[ \t\n\r\f]+/g, ' ') }]
    if (child.type !== 'element' || LEFT_OUT.has(child.tagName)) return []
    const { tagName, properties } = child
    if (tagName === 'br') return [{ type: 'break' }]
    if (tagName === 'img')
      return typeof properties['alt'] === 'string' ? [{ type: 'text', value: properties['alt'] }] : []
    const inside = phrasesOf(child.children)
    if (inside.length === 0) return []
    const href = properties['href']
    if (tagName === 'a' && typeof href === 'string') return [{ type: 'link', url: href, children: inside }]
    // word processors say it by style
    const style = typeof properties['style'] === 'string' ? properties['style'] : ''
    const isPlain = /font-weight:\s*(normal|400)/.test(style)
    if ((/^(b|strong)$/.test(tagName) && !isPlain) || /font-weight:\s*(bold|[6-9]00)/.test(style))
      return [{ type: 'strong', children: inside }]
    if (/^(i|em)$/.test(tagName) || /font-style:\s*italic/.test(style)) return [{ type: 'emphasis', children: inside }]
    return inside
  })
  const first = phrases.findIndex((one) => !isBlank(one))
  const last = phrases.findLastIndex((one) => !isBlank(one))
  return first === -1 ? [] : phrases.slice(first, last + 1)
}

function isBlank(phrase: PhrasingContent): boolean {
  return phrase.type === 'break' || (phrase.type === 'text' && phrase.value.trim() === '')
}

/** All words that are in it, as they stand. */
export function wordsIn(node: Nodes | Root): string {
  if (node.type === 'text') return node.value
  return 'children' in node ? node.children.map(wordsIn).join('') : ''
}
