import { NO_BEAT, ROAD_KINDS, TAKEN } from '../../core/story/roads'
import { wordsOfBeat } from '../../core/story/words'
import { writeDot } from '../../core/formats/story-dot/write'
import type { StoryGraph } from '../../core/formats/story-graph'
import { writeGraphml } from '../../core/formats/story-graphml/write'
import { saveBlob, saveFile } from '../../ui/save-file'
import type { Parts } from './chart-canvas'
import type { ChartWords } from './chart-words'
import { draw } from './draw'
import { CanvasPen, SvgPen } from './pen'
import type { SaveAs } from './save-as'
import { STRIP, type Look, type Palette, type Sheet } from './sheet'

/** The colours of a saved picture, which is read on paper. */
const PAPER: Palette = {
  ground: '#ffffff',
  sheet: '#ffffff',
  wash: '#f1ede4',
  ink: '#29241f',
  faded: '#655c50',
  hairline: '#ddd5c4',
  edge: '#8d8271',
  needle: '#b8341a',
  kept: '#17645f',
  ochre: '#7d5200',
}

const AROUND = 24
/** A canvas is no larger than browsers draw it, in pixels a side. */
const CANVAS_MAX = 12_000
/** A sheet of paper in landscape, in pixels of 1/96 inch within its margins: what fits A4 and Letter. */
const SHEET = { width: 960, height: 660 }

/** Hands the chart to the user in a form. */
export function saveChart(as: SaveAs, parts: Parts, title: string): void {
  switch (as) {
    case 'svg':
      return saveFile(`${title}.svg`, svgOf(parts, 1, title), 'image/svg+xml')
    case 'png':
      return savePng(parts, title)
    case 'print':
      return printSheets([wholeSheet(parts, title)])
    case 'sheets':
      return printSheets(manySheets(parts, title))
    case 'graphml':
      return saveFile(`${title}.graphml`, writeGraphml(graphOf(parts, title)), 'application/graphml+xml')
    case 'dot':
      return saveFile(`${title}.dot`, writeDot(graphOf(parts, title)), 'text/vnd.graphviz')
  }
}

function sheetOf(parts: Parts, look: Look, width: number, height: number): Sheet {
  return { ...parts, look, width, height, palette: PAPER, isFile: true }
}

function sizeOf({ picture }: Parts, k: number): { readonly width: number; readonly height: number } {
  return { width: picture.width * k + 2 * AROUND, height: picture.height * k + 2 * AROUND + STRIP }
}

function svgOf(parts: Parts, k: number, title: string): string {
  const { width, height } = sizeOf(parts, k)
  const pen = new SvgPen()
  draw(pen, sheetOf(parts, { x: AROUND, y: STRIP + AROUND, k }, width, height))
  return pen.document(width, height, title)
}

function savePng(parts: Parts, title: string): void {
  const { width, height } = sizeOf(parts, 1)
  const k = Math.min(1.5, (CANVAS_MAX - 2 * AROUND) / width, (CANVAS_MAX - 2 * AROUND - STRIP) / height)
  const size = sizeOf(parts, k)
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(size.width)
  canvas.height = Math.round(size.height)
  const context = canvas.getContext('2d')
  if (context === null) return
  draw(new CanvasPen(context), sheetOf(parts, { x: AROUND, y: STRIP + AROUND, k }, size.width, size.height))
  canvas.toBlob((blob) => blob !== null && saveBlob(`${title}.png`, blob), 'image/png')
}

function wholeSheet(parts: Parts, title: string): string {
  const { width, height } = sizeOf(parts, 1)
  return svgOf(parts, Math.min(1, SHEET.width / width, SHEET.height / height), title)
}

/** At a scale at which titles are read, in as many sheets as that takes, row by row. */
function manySheets(parts: Parts, title: string): string[] {
  const k = 0.8
  const { width, height } = sizeOf(parts, k)
  const sheets: string[] = []
  for (let top = 0; top < height - STRIP; top += SHEET.height - STRIP)
    for (let left = 0; left < width; left += SHEET.width) {
      const pen = new SvgPen()
      draw(pen, sheetOf(parts, { x: AROUND - left, y: STRIP + AROUND - top, k }, SHEET.width, SHEET.height))
      sheets.push(pen.document(SHEET.width, SHEET.height, `${title}, sheet ${sheets.length + 1}`))
    }
  return sheets
}

/** Prints pictures, each on a sheet of its own, from a page that is there only for that. */
function printSheets(sheets: readonly string[]): void {
  const frame = document.createElement('iframe')
  frame.setAttribute('aria-hidden', 'true')
  frame.style.cssText = 'position:fixed;width:0;height:0;border:0'
  document.body.append(frame)
  const inner = frame.contentDocument!
  const rules = new frame.contentWindow!.window.CSSStyleSheet()
  rules.replaceSync(
    '@page{size:landscape;margin:10mm} body{margin:0} svg{display:block;width:100%;height:auto;break-after:page}',
  )
  inner.adoptedStyleSheets = [rules]
  for (const sheet of sheets) {
    const picture = new DOMParser().parseFromString(sheet, 'image/svg+xml').documentElement
    inner.body.append(inner.importNode(picture, true))
  }
  frame.contentWindow!.addEventListener('afterprint', () => frame.remove())
  frame.contentWindow!.print()
}

function graphOf({ picture, words, verdict }: Parts, title: string): StoryGraph {
  const { chart } = picture
  const known = words as ChartWords
  const { roads } = chart
  return {
    title,
    beats: chart.beats.map((id, index) => {
      const beat = known.beat(index)
      return {
        id,
        title: known.title(index),
        scene: known.scene(chart.bandOf[index]!),
        distance: chart.inMargin[index] === 1 || chart.byRoads[index] === 1 ? undefined : chart.column[index]!,
        verdict: verdict(index),
        words: beat === undefined ? 0 : wordsOfBeat(beat, known.story.language),
        isEnding: known.isEnding(index),
        isPlace: known.isPlace(index),
        isStart: index === chart.start,
      }
    }),
    roads: Array.from({ length: roads.count }, (_, road) => road)
      .filter((road) => roads.to[road] !== NO_BEAT)
      .map((road) => {
        const { address, choice, when = '', effects } = known.written(road)
        const taken = chart.taken[road]
        return {
          id: address,
          from: chart.beats[roads.from[road]!]!,
          to: chart.beats[roads.to[road]!]!,
          kind: ROAD_KINDS[roads.kind[road]!]!,
          text: choice?.text ?? '',
          gate: when,
          effects: effects.join('; '),
          taken:
            taken === TAKEN.taken
              ? ('yes' as const)
              : taken === TAKEN.never
                ? ('never' as const)
                : ('undecided' as const),
        }
      }),
  }
}
