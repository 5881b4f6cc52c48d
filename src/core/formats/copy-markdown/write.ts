import { markOf } from '../../texts/incoming'
import { anchorOf } from '../../story/reshape/script-paste'
import type { Block, Destination, ReadingCopy } from '../../reading/copy'

/**
 * A reading copy as Markdown (CommonMark): headings are scenes and beats, list items choices, links their destinations,
 * quotations remarks, what is slanted is done or thought. Behind each text stands its key in a comment, by which it is known
 * again when it was edited.
 */
export function writeMarkdown({ title, part, author, blocks }: ReadingCopy): string {
  const anchors = anchorsOf(blocks)
  const head = [`# ${escaped(part === undefined ? title : `${title}: ${part}`)}`]
  if (author !== undefined) head.push(`> by ${escaped(author)}`)
  return `${[...head, ...blocks.map((block) => written(block, anchors))].join('\n\n')}\n`
}

/** By what headings are linked, as Markdown readers make it of their words: by address. */
function anchorsOf(blocks: readonly Block[]): Map<string, string> {
  const anchors = new Map<string, string>()
  const counts = new Map<string, number>()
  for (const block of blocks) {
    if (block.of !== 'scene' && block.of !== 'beat') continue
    const slug = anchorOf(block.title)
    const count = counts.get(slug) ?? 0
    counts.set(slug, count + 1)
    if (block.of === 'beat') anchors.set(block.address, count === 0 ? slug : `${slug}-${count}`)
  }
  return anchors
}

function written(block: Block, anchors: ReadonlyMap<string, string>): string {
  const link = (to: Destination, text: string) => `[${text}](#${anchors.get(to.address) ?? to.address})`
  switch (block.of) {
    case 'scene':
      return `## ${escaped(block.title)}${quoted(block.notes)}`
    case 'beat':
      return `### ${escaped(block.title)}${quoted(block.notes)}`
    case 'remark':
      return `> ${escaped(block.text)}${block.to === undefined ? '' : ` to ${link(block.to, escaped(block.to.title))}`}`
    case 'line': {
      const who = block.who === undefined ? '' : `**${escaped(block.who)}:** `
      const isSpoken = block.manner === 'speech' || block.manner === 'narration'
      const text = isSpoken || block.text === '' ? escaped(block.text) : `*${escaped(block.text)}*`
      return `${who}${text}${key(block.key, block.text)}${quoted(block.remarks.join(', '))}`
    }
    case 'choice': {
      const who = block.who === undefined ? '' : `**${escaped(block.who)}:** `
      const text = block.to === undefined ? escaped(block.text) : link(block.to, escaped(block.text))
      const remarks = block.remarks.length === 0 ? '' : `\n\n  > ${escaped(block.remarks.join(', '))}`
      return `- ${who}${text.replaceAll('\n', '\n  ')}${key(block.key, block.text)}${remarks}`
    }
    case 'prompt': {
      const asks = block.suggest.length === 0 ? '' : `, such as ${block.suggest.join(', ')}`
      return `${escaped(block.text)}${key(block.key, block.text)}${quoted(`the player types a word${asks}`)}`
    }
    case 'took':
      return `- *${escaped(block.text)}*`
    case 'ending':
      return `> Ending: ${escaped(block.name)}`
  }
}

function quoted(text: string | undefined): string {
  return text === undefined || text === '' ? '' : `\n\n> ${escaped(text).replaceAll('\n', '\n> ')}`
}

/** Behind a text: what it is known by, and by what one sees whether it was changed meanwhile. */
function key(name: string | undefined, text: string): string {
  return name === undefined ? '' : ` <!-- ${name} ${markOf(text)} -->`
}

/** Words as Markdown that says just them: signs that mean something escaped, blanks at the ends kept, rows broken hard. */
function escaped(text: string): string {
  return (
    text
      .replace(/[\\`*_[\]<>&~|]/g, '\\$&')
      .split(/\r\n|\r|\n/)
      .map((row) => {
        const safe = row
          .replace(/^(\s*)([#+=-])/, '$1\\$2')
          .replace(/^(\s*\d{1,9})([.)])/, '$1\\$2')
          .replace(/^[ \t\u00a0]+|[ \t\u00a0]+$/g, (blanks) =>
            [...blanks].map((sign) => `&#${sign.charCodeAt(0)};`).join(''),
          )
        return safe
      })
      // a row that is empty would end the paragraph
      .map((row, at, rows) => (row === '' && rows.length > 1 ? '&#8203;' : row))
      .join('\\\n')
  )
}
