import type { Block, ReadingCopy } from '../../reading/copy'

/** A reading copy as Fountain 1.1: sections for scenes and beats, characters in capitals, gates and destinations as notes. */
export function writeFountain({ title, part, author, made, blocks }: ReadingCopy): string {
  const page = [
    `Title: ${oneRow(title)}`,
    ...(part === undefined ? [] : [`Source: ${oneRow(part)}`]),
    ...(author === undefined ? [] : [`Author: ${oneRow(author)}`]),
    `Draft date: ${made.toISOString().slice(0, 10)}`,
  ]
  return `${page.join('\n')}\n\n${blocks.map(written).join('\n\n')}\n`
}

function written(block: Block): string {
  switch (block.of) {
    case 'scene':
      return `# ${oneRow(block.title)}${note(block.notes)}`
    case 'beat':
      return `.${oneRow(block.title)}${note(block.notes)}`
    case 'remark':
      return `[[${safe(block.text)}${block.to === undefined ? '' : ` to: ${oneRow(block.to.title)}`}]]`
    case 'line': {
      const remarks = note(block.remarks.join(', '))
      if (block.who === undefined) return `!${rows(block.text)}${remarks}`
      const text = rows(block.text)
      const said =
        block.manner === 'speech' || block.manner === 'narration' ? text : `(${text.replaceAll(/[()]/g, '')})`
      return `@${oneRow(block.who)}\n${said}${remarks}`
    }
    case 'choice': {
      const more = [...block.remarks, ...(block.to === undefined ? [] : [`to: ${oneRow(block.to.title)}`])]
      return `!- ${oneRow(block.text)}${more.length === 0 ? '' : ` [[${safe(more.join(', '))}]]`}`
    }
    case 'prompt':
      return `!${rows(block.text)} [[the player types a word]]`
    case 'took':
      return `!— ${oneRow(block.text)}`
    case 'ending':
      return `> ${oneRow(block.name)} <`
  }
}

/** Text on several rows; an empty row would end the element, so it holds two blanks. */
function rows(text: string): string {
  return safe(text)
    .split(/\r\n|\r|\n/)
    .map((row) => (row === '' ? '  ' : row))
    .join('\n')
}

function oneRow(text: string): string {
  return safe(text).replaceAll(/\s*[\r\n]+\s*/g, ' ')
}

/** What would be a note, a remark or emphasis is only text. */
function safe(text: string): string {
  return text.replaceAll('[[', '[ [').replaceAll(']]', '] ]').replaceAll('/*', '/ *').replaceAll(/[*_]/g, '\\$&')
}

function note(text: string | undefined): string {
  return text === undefined || text === '' ? '' : ` [[${oneRow(text)}]]`
}
