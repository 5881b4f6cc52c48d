import { escapeXml, UNFIT_FOR_XML } from '../../base/xml'
import { textPieces, withCategories } from '../../story/text-codes'
import { markOf } from '../../texts/incoming'
import type { TextsOf } from '../../texts/files'
import type { TextRow, TextState } from '../../texts/rows'

const NAMESPACE = 'urn:oasis:names:tc:xliff:document:2.0'
const UNFIT = new RegExp(`([${UNFIT_FOR_XML}]|\\p{Surrogate})`, 'u')
const STATES: Readonly<Record<TextState, string>> = {
  missing: 'initial',
  draft: 'translated',
  outdated: 'translated',
  checked: 'final',
}

/**
 * Texts of a language as XLIFF 2.1 (OASIS 2018), a file for each scene and one for names: a unit for each text, whose name is
 * the key. What is put in by the story is an inline code; a source that counts has a form for each category of the language.
 */
export function writeXliff({ title, language, own }: TextsOf, rows: readonly TextRow[]): string {
  const files = new Map<string, string[]>()
  rows.forEach((row, at) => {
    const scene = row.beat?.slice(0, row.beat.indexOf('.')) ?? ''
    const units = files.get(scene) ?? []
    units.push(unitOf(row, at + 1, language))
    files.set(scene, units)
  })
  const written = [...files].map(
    ([scene, units], at) =>
      `  <file id="f${at + 1}" original="${escapeXml(scene === '' ? `${title}: names` : `${title}: ${scene}`)}">\n` +
      `${units.join('')}  </file>\n`,
  )
  // a document has at least one file, and a file at least one unit
  if (written.length === 0)
    written.push(
      '  <file id="f0">\n    <unit id="u0">\n      <segment><source></source></segment>\n    </unit>\n  </file>\n',
    )
  return (
    '<?xml version="1.0" encoding="UTF-8"?>\n' +
    `<xliff xmlns="${NAMESPACE}" version="2.1" srcLang="${escapeXml(own)}" trgLang="${escapeXml(language)}" xml:space="preserve">\n` +
    `${written.join('')}</xliff>\n`
  )
}

function unitOf(row: TextRow, number: number, language: string): string {
  const { key, text = '', where, who, before, gate, notes, of, state } = row
  const source = withCategories(row.source, language)
  const data: string[] = []
  /** Codes of the source that the target has not used yet: the same code is known by the same id. */
  const free: { readonly code: string; readonly id: number }[] = []
  let count = 0
  const contentOf = (written: string, idOf: (code: string) => number) =>
    textPieces(written)
      .map((piece) => {
        if (piece.of === 'words') return charactersOf(piece.text)
        let at = data.indexOf(piece.text)
        if (at === -1) at = data.push(piece.text) - 1
        return `<ph id="${idOf(piece.text)}" dataRef="d${at + 1}" equiv="${escapeXml(piece.text.trim())}"/>`
      })
      .join('')
  const note = (category: string, said: string | undefined) =>
    said === undefined || said === '' ? '' : `        <note category="${category}">${escapeXml(said)}</note>\n`
  const inSource = contentOf(source, (code) => free.push({ code, id: (count += 1) }) && count)
  const inTarget = contentOf(text, (code) => {
    const at = free.findIndex((one) => one.code === code)
    return at === -1 ? (count += 1) : free.splice(at, 1)[0]!.id
  })
  const subState = state === 'outdated' ? ' subState="desk:outdated"' : ''
  return (
    `    <unit id="u${number}" name="${escapeXml(key)}">\n      <notes>\n` +
    note('where', where) +
    note('who', who) +
    note('before', before) +
    note('when', gate) +
    note('notes', notes) +
    note('translated-from', of) +
    // exact, so where it can't stand as text it is told in JSON
    note('source', source === row.source ? undefined : JSON.stringify(row.source)) +
    `        <note category="was">${markOf(text)}</note>\n      </notes>\n` +
    (data.length === 0
      ? ''
      : `      <originalData>\n${data.map((code, at) => `        <data id="d${at + 1}">${charactersOf(code)}</data>\n`).join('')}      </originalData>\n`) +
    `      <segment state="${STATES[state]}"${subState} canResegment="no">\n` +
    `        <source>${inSource}</source>\n` +
    (text === '' ? '' : `        <target>${inTarget}</target>\n`) +
    '      </segment>\n    </unit>\n'
  )
}

/** Text between tags; what XML can't hold stands as `cp`, as XLIFF provides. */
function charactersOf(text: string): string {
  return text
    .split(UNFIT)
    .map((part, at) =>
      at % 2 === 0 ? escapeXml(part) : `<cp hex="${part.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')}"/>`,
    )
    .join('')
}
