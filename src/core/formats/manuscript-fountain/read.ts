import { fail, ok, type Result } from '../../base/result'
import type { ScriptPart } from '../../story/reshape/script-paste'
import type { ReadManuscript } from '../manuscript'
import { textOf } from '../payload'

const PLACE = /^(?:INT|EXT|EST|INT\.?\/EXT|I\/E)[. ]/i
const NOTE = /\[\[([^]*?)\]\]/g
/** Of a choice: where it leads. */
const TO = /(?:^|, )to: ([^,]+)$/

/**
 * Reads Fountain 1.1 as a manuscript: sections of the first rank are scenes, deeper ones and scene headings beats, synopses
 * and notes notes; dialogue goes to its character, a parenthetical is what they do; an action that begins with a hyphen is a
 * choice.
 */
export function readFountain(bytes: Uint8Array): Result<ReadManuscript> {
  const text = textOf(bytes)
  if (!text.ok) return text
  const rows = text.value
    .replace(/^\uFEFF/, '')
    .replaceAll(/\r\n?/g, '\n')
    .replaceAll(/\/\*[^]*?\*\//g, '')
    .split('\n')
  const title = titleOf(rows)
  const parts: ScriptPart[] = []
  for (const block of blocksOf(rows)) parts.push(...partsOf(block))
  return parts.length === 0
    ? fail('there is no text in this file')
    : ok({ ...(title === undefined ? {} : { title }), parts })
}

/** Takes the title page off the rows; the title on it. */
function titleOf(rows: string[]): string | undefined {
  if (!/^[A-Za-z ]+:/.test(rows[0] ?? '') || PLACE.test(rows[0]!)) return undefined
  const end = rows.findIndex((row) => row.trim() === '')
  const page = rows.splice(0, end === -1 ? rows.length : end)
  const at = page.findIndex((row) => /^title:/i.test(row))
  if (at === -1) return undefined
  const own = page[at]!.slice(6).trim()
  const title = own !== '' ? own : (page[at + 1] ?? '').trim()
  return title === '' ? undefined : words(title)
}

/** Rows that stand together; a row of two blanks does not part them. */
function blocksOf(rows: readonly string[]): string[][] {
  const blocks: string[][] = [[]]
  for (const row of rows) {
    if (row === '' || (row.trim() === '' && row.length < 2)) blocks.push([])
    else if (/^(#|={1,2}[^=])/.test(row)) blocks.push([row], [])
    else blocks.at(-1)!.push(row)
  }
  return blocks.filter((block) => block.length > 0)
}

function partsOf(block: readonly string[]): ScriptPart[] {
  const whole = block.join('\n')
  const notes = [...whole.matchAll(NOTE)].map(([, note]) => note!.trim().replaceAll(/\s+/g, ' '))
  const rows = whole.replaceAll(NOTE, '').split('\n')
  const [first = '', ...rest] = rows
  const said = (more: readonly string[] = notes): ScriptPart[] => more.map((text) => ({ of: 'note', text }))
  const row = first.trim()
  if (/^={3,}$/.test(row)) return said()
  if (row.startsWith('#')) {
    const [, marks, title] = /^(#+)\s*(.*)$/.exec(row)!
    return title === '' ? said() : [{ of: marks!.length === 1 ? 'scene' : 'beat', title: words(title!) }, ...said()]
  }
  if (/^=[^=]/.test(row)) return [{ of: 'note', text: words(row.slice(1).trim()) }, ...said()]
  if ((row.startsWith('.') && !row.startsWith('..')) || PLACE.test(row)) {
    const title = words(row.replace(/^\./, '').replace(/\s*#[^#]*#\s*$/, ''))
    return [...(title === '' ? [] : [{ of: 'beat' as const, title }]), ...said(), ...partsOfRest(rest)]
  }
  if (/^!?\s*[-–—•] /.test(row)) return choicesIn(rows, notes)
  if (row.startsWith('!')) return [...line([first.replace('!', ''), ...rest]), ...said()]
  if (/^>.*<$/.test(row)) return [...line([row.slice(1, -1).trim()]), ...said()]
  if (row.startsWith('>') || (/^[\p{Lu} ]+ TO:$/u.test(row) && rest.length === 0)) return said()
  const isNamed = row.startsWith('@')
  const isLoud = /\p{Lu}/u.test(row) && !/\p{Ll}/u.test(row.replaceAll(/\([^)]*\)/g, ''))
  if (rest.some((one) => one !== '') && (isNamed || isLoud)) {
    const speaker = words(
      row
        .replace(/^@/, '')
        .replace(/\s*\^$/, '')
        .replaceAll(/\s*\([^)]*\)/g, ''),
    ).trim()
    if (speaker !== '') return [...dialogue(speaker, rest), ...said()]
  }
  return [...line(rows), ...said()]
}

function partsOfRest(rows: readonly string[]): ScriptPart[] {
  return rows.some((row) => row.trim() !== '') ? partsOf(rows) : []
}

function choicesIn(rows: readonly string[], notes: readonly string[]): ScriptPart[] {
  const choices = rows.flatMap((row): ScriptPart[] => {
    const text = words(row.trim().replace(/^!?\s*[-–—•] /, '')).trim()
    return text === '' ? [] : [{ of: 'choice', text }]
  })
  const to = choices.length === 1 ? notes.map((note) => TO.exec(note)?.[1]).find((one) => one !== undefined) : undefined
  const [only] = choices
  const others = notes.map((note) => note.replace(TO, '').trim()).filter((note) => note !== '')
  return [
    ...(to !== undefined && only?.of === 'choice' ? [{ ...only, to }] : choices),
    ...others.map((text): ScriptPart => ({ of: 'note', text })),
  ]
}

/** What somebody says; what they do meanwhile stands in brackets on rows of its own. */
function dialogue(speaker: string, rows: readonly string[]): ScriptPart[] {
  const parts: { of: 'line'; speaker: string; isAction: boolean; rows: string[] }[] = []
  for (const row of rows) {
    const text = words(row.trim().replace(/^~/, ''))
    const isAction = /^\(.*\)$/.test(text)
    const last = parts.at(-1)
    if (isAction) parts.push({ of: 'line', speaker, isAction, rows: [text.slice(1, -1)] })
    else if (last === undefined || last.isAction) parts.push({ of: 'line', speaker, isAction, rows: [text] })
    else last.rows.push(text)
  }
  return parts
    .map(({ rows: all, ...rest }) => ({ ...rest, text: all.join('\n').trim() }))
    .filter(({ text }) => text !== '')
}

function line(rows: readonly string[]): ScriptPart[] {
  const text = rows
    .map((row) => words(row.trim().replace(/^~/, '')))
    .join('\n')
    .trim()
  return text === '' ? [] : [{ of: 'line', isAction: false, text }]
}

/** Without the signs of emphasis; what is escaped is itself. */
function words(text: string): string {
  return text.replaceAll(/\\([*_\\])|[*_]/g, (_, sign: string | undefined) => sign ?? '')
}
