import type { Root } from 'mdast'
import { fromMarkdown } from 'mdast-util-from-markdown'

/** The parser's time grows with the square of what it is given at once, so a long text is given to it in pieces of about so many signs. */
const PIECE = 4_000

/** Markdown as a tree. Between pieces, each of which begins with a heading, only what links refer to is shared. */
export function treeOf(source: string): Root {
  const text = source.replace(/^\uFEFF/, '').replaceAll('\0', '\uFFFD')
  const definitions = [...text.matchAll(/^ {0,3}\[[^\]\n]+\]:.*$/gm)].map(([row]) => row).join('\n')
  const children = piecesOf(text).flatMap(
    (piece, at) => fromMarkdown(at === 0 ? piece : `${piece}\n\n${definitions}`).children,
  )
  return { type: 'root', children }
}

function piecesOf(text: string): string[] {
  if (text.length <= PIECE) return [text]
  const pieces: string[] = []
  let rows: string[] = []
  let size = 0
  let fence: string | undefined
  for (const row of text.split('\n')) {
    const mark = /^ {0,3}(```+|~~~+)/.exec(row)?.[1]
    if (fence === undefined) fence = mark
    else if (mark?.startsWith(fence) === true) fence = undefined
    if (fence === undefined && size > PIECE && /^#{1,6} /.test(row)) {
      pieces.push(rows.join('\n'))
      rows = []
      size = 0
    }
    rows.push(row)
    size += row.length + 1
  }
  return [...pieces, rows.join('\n')]
}
