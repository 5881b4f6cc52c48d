import {
  AlignmentType,
  Bookmark,
  Document,
  Footer,
  Header,
  HeadingLevel,
  InternalHyperlink,
  LevelFormat,
  Packer,
  PageNumber,
  Paragraph,
  TextRun,
  type ParagraphChild,
} from 'docx'
import { fitForXml } from '../../base/xml'
import { directionOf } from '../../base/direction'
import type { Block, Destination, ReadingCopy } from '../../reading/copy'
import { readableText } from '../../story/readable'

const STEP = 400
const INK = '1d1a16'
/** Looks of headings: size in half points, room before and after in twentieths of a point. */
const heading = (size: number, before: number, after: number) => ({
  run: { font: 'Georgia', size, bold: true, color: INK },
  paragraph: { spacing: { before, after } },
})
const CHOICE = { reference: 'choices', level: 0 } as const
const QUIET = { italics: false, color: '666666', size: 18, font: 'Arial' } as const

/** A reading copy as a DOCX document: headings of the word processor's own, running heads, numbered pages. */
export async function writeDocx(copy: ReadingCopy): Promise<Uint8Array> {
  const { title, part, author, language, blocks } = copy
  const bidirectional = directionOf(language) === 'rtl'
  const addresses = blocks.flatMap((block) => (block.of === 'beat' ? [block.address] : []))
  const marks = new Map(addresses.map((address, at) => [address, `beat${at + 1}`]))
  const head = part === undefined ? title : `${title}: ${part}`
  const document = new Document({
    title: head,
    ...(author === undefined ? {} : { creator: author }),
    styles: {
      paragraphStyles: [
        { id: 'Quote', name: 'Quote', basedOn: 'Normal', quickFormat: true },
        { id: 'Subtitle', name: 'Subtitle', basedOn: 'Normal', quickFormat: true, run: { italics: true } },
      ],
      default: {
        document: { run: { font: 'Georgia', size: 22, language: { value: language } } },
        title: heading(44, 2400, 240),
        heading1: heading(32, 0, 240),
        heading2: heading(24, 320, 80),
      },
    },
    numbering: {
      config: [
        {
          reference: CHOICE.reference,
          levels: [
            {
              level: CHOICE.level,
              format: LevelFormat.BULLET,
              text: '–',
              alignment: AlignmentType.START,
              style: { paragraph: { indent: { left: 2 * STEP, hanging: 260 } } },
            },
          ],
        },
      ],
    },
    sections: [
      {
        properties: { titlePage: true },
        headers: {
          default: new Header({
            children: [
              new Paragraph({ alignment: AlignmentType.CENTER, children: [new TextRun({ text: head, ...QUIET })] }),
            ],
          }),
        },
        footers: {
          default: new Footer({
            children: [
              new Paragraph({
                alignment: AlignmentType.CENTER,
                children: [new TextRun({ children: [PageNumber.CURRENT, ' / ', PageNumber.TOTAL_PAGES], ...QUIET })],
              }),
            ],
          }),
        },
        children: [
          new Paragraph({ heading: HeadingLevel.TITLE, alignment: AlignmentType.CENTER, text: fitForXml(title) }),
          ...[part, author]
            .filter((text) => text !== undefined)
            .map(
              (text) => new Paragraph({ style: 'Subtitle', alignment: AlignmentType.CENTER, text: fitForXml(text) }),
            ),
          ...blocks.flatMap((block, at) => paragraphs(block, at, marks, bidirectional)),
        ],
      },
    ],
  })
  return new Uint8Array(await Packer.toArrayBuffer(document))
}

function paragraphs(block: Block, at: number, marks: ReadonlyMap<string, string>, bidirectional: boolean): Paragraph[] {
  const quiet = (text: string) => new TextRun({ text: fitForXml(text), ...QUIET })
  const remark = (remarks: readonly (string | undefined)[], depth = 0, more: ParagraphChild[] = []) => {
    const said = remarks.filter((one) => one !== undefined && one !== '').join(', ')
    return said === ''
      ? []
      : [
          new Paragraph({
            style: 'Quote',
            bidirectional,
            indent: { left: STEP * depth },
            children: [quiet(said), ...more],
          }),
        ]
  }
  const who = (name: string | undefined) =>
    name === undefined ? [] : [new TextRun({ text: fitForXml(`${name}: `), bold: true, smallCaps: true })]
  const goes = (to: Destination | undefined): ParagraphChild[] => {
    if (to === undefined) return []
    const run = quiet(`  → ${to.title}`)
    const anchor = marks.get(to.address)
    return [anchor === undefined ? run : new InternalHyperlink({ anchor, children: [run] })]
  }
  switch (block.of) {
    case 'scene':
      return [
        new Paragraph({
          heading: HeadingLevel.HEADING_1,
          bidirectional,
          pageBreakBefore: at > 0,
          text: fitForXml(block.title),
        }),
        ...remark([block.notes]),
      ]
    case 'beat':
      return [
        new Paragraph({
          heading: HeadingLevel.HEADING_2,
          bidirectional,
          keepNext: true,
          children: [new Bookmark({ id: marks.get(block.address)!, children: [new TextRun(fitForXml(block.title))] })],
        }),
        ...remark([block.notes]),
      ]
    case 'remark':
      return remark([block.text], block.depth, goes(block.to))
    case 'line':
      return [
        new Paragraph({
          bidirectional,
          spacing: { before: 80 },
          indent: { left: STEP * block.depth },
          children: [...who(block.who), ...runs(block.text, block.manner === 'action' || block.manner === 'thought')],
        }),
        ...remark(block.remarks, block.depth),
      ]
    case 'choice':
      return [
        new Paragraph({
          bidirectional,
          numbering: CHOICE,
          spacing: { before: 60 },
          children: [...who(block.who), ...runs(block.text, false), ...goes(block.to)],
        }),
        ...remark(block.remarks, 2),
      ]
    case 'prompt':
      return [
        new Paragraph({ bidirectional, spacing: { before: 80 }, children: runs(block.text, false) }),
        ...remark(['the player types a word', ...block.suggest]),
      ]
    case 'took':
      return [new Paragraph({ bidirectional, numbering: CHOICE, children: runs(block.text, true) })]
    case 'ending':
      return [
        new Paragraph({
          style: 'Quote',
          alignment: AlignmentType.CENTER,
          spacing: { before: 200 },
          children: [new TextRun({ text: fitForXml(`Ending: ${block.name}`), smallCaps: true })],
        }),
      ]
  }
}

/** Text with its rows; what is neither a letter nor a sign is left out, as XML can't hold it. */
function runs(source: string, italics: boolean): TextRun[] {
  return readableText(source)
    .split(/\r\n|\r|\n/)
    .map((text, at) => new TextRun({ text: fitForXml(text), italics, ...(at === 0 ? {} : { break: 1 }) }))
}
