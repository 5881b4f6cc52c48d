import { escapeXml } from '../../core/base/xml'

/** What a line can be made of; a canvas and a path of SVG both take it. */
export type Sink = Pick<CanvasRenderingContext2D, 'moveTo' | 'lineTo' | 'bezierCurveTo' | 'arc' | 'rect' | 'closePath'>

export interface Stroke {
  readonly stroke?: string
  readonly width?: number
  readonly dash?: readonly number[]
  readonly fill?: string
  readonly alpha?: number
}

export interface Lettering {
  readonly size: number
  readonly color: string
  readonly family?: 'story' | 'body'
  readonly italic?: boolean
  readonly weight?: number
  readonly align?: 'start' | 'middle' | 'end'
  /** The colour around the letters, which keeps lines away from them. */
  readonly halo?: string
}

/** Draws lines and words, on a canvas or as SVG. */
export interface Pen {
  path(trace: (sink: Sink) => void, style: Stroke): void
  text(words: string, x: number, y: number, style: Lettering): void
}

const FAMILIES = {
  story: "'Literata Variable', Georgia, serif",
  body: "'Source Sans 3 Variable', system-ui, sans-serif",
} as const

export class CanvasPen implements Pen {
  constructor(private readonly context: CanvasRenderingContext2D) {}

  path(trace: (sink: Sink) => void, { stroke, width = 1, dash, fill, alpha = 1 }: Stroke): void {
    const { context } = this
    context.globalAlpha = alpha
    context.beginPath()
    trace(context)
    if (fill !== undefined) {
      context.fillStyle = fill
      context.fill()
    }
    if (stroke !== undefined) {
      context.strokeStyle = stroke
      context.lineWidth = width
      context.setLineDash(dash === undefined ? [] : [...dash])
      context.stroke()
    }
    context.globalAlpha = 1
  }

  text(words: string, x: number, y: number, style: Lettering): void {
    const { context } = this
    const { size, color, family = 'body', italic = false, weight = 400, align = 'start', halo } = style
    context.font = `${italic ? 'italic ' : ''}${weight} ${size}px ${FAMILIES[family]}`
    context.textAlign = align === 'middle' ? 'center' : align
    if (halo !== undefined) {
      context.strokeStyle = halo
      context.lineWidth = 3
      context.lineJoin = 'round'
      context.setLineDash([])
      context.strokeText(words, x, y)
    }
    context.fillStyle = color
    context.fillText(words, x, y)
  }
}

/** Collects what is drawn as the elements of an SVG picture. */
export class SvgPen implements Pen {
  private readonly elements: string[] = []

  path(trace: (sink: Sink) => void, { stroke, width = 1, dash, fill, alpha = 1 }: Stroke): void {
    const path = new SvgPath()
    trace(path)
    if (path.d === '') return
    const line = stroke === undefined ? '' : ` stroke="${stroke}" stroke-width="${width}"`
    const dashed = dash === undefined || dash.length === 0 ? '' : ` stroke-dasharray="${dash.join(' ')}"`
    const faint = alpha === 1 ? '' : ` opacity="${alpha}"`
    this.elements.push(`<path d="${path.d}" fill="${fill ?? 'none'}"${line}${dashed}${faint}/>`)
  }

  text(words: string, x: number, y: number, style: Lettering): void {
    const { size, color, family = 'body', italic = false, weight = 400, align = 'start', halo } = style
    const around =
      halo === undefined ? '' : ` stroke="${halo}" stroke-width="3" stroke-linejoin="round" paint-order="stroke"`
    this.elements.push(
      `<text x="${short(x)}" y="${short(y)}" font-family="${FAMILIES[family]}" font-size="${size}" font-weight="${weight}"` +
        `${italic ? ' font-style="italic"' : ''} text-anchor="${align}" fill="${color}"${around}>${escapeXml(words)}</text>`,
    )
  }

  /** The picture as a file. */
  document(width: number, height: number, title: string): string {
    return (
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${short(width)} ${short(height)}" ` +
      `width="${short(width)}" height="${short(height)}" role="img"><title>${escapeXml(title)}</title>\n` +
      `${this.elements.join('\n')}\n</svg>\n`
    )
  }
}

class SvgPath implements Sink {
  private readonly parts: string[] = []

  get d(): string {
    return this.parts.join('')
  }

  moveTo(x: number, y: number): void {
    this.parts.push(`M${short(x)} ${short(y)}`)
  }

  lineTo(x: number, y: number): void {
    this.parts.push(`L${short(x)} ${short(y)}`)
  }

  bezierCurveTo(...numbers: [number, number, number, number, number, number]): void {
    this.parts.push(`C${numbers.map(short).join(' ')}`)
  }

  arc(x: number, y: number, radius: number, from: number, to: number): void {
    // a whole circle is two halves
    const isWhole = Math.abs(to - from) >= 2 * Math.PI - 1e-6
    const at = (angle: number) => `${short(x + radius * Math.cos(angle))} ${short(y + radius * Math.sin(angle))}`
    const middle = (from + to) / 2
    const large = !isWhole && Math.abs(to - from) > Math.PI ? 1 : 0
    this.parts.push(
      isWhole
        ? `M${at(from)}A${radius} ${radius} 0 1 1 ${at(middle)}A${radius} ${radius} 0 1 1 ${at(to)}`
        : `M${at(from)}A${radius} ${radius} 0 ${large} 1 ${at(to)}`,
    )
  }

  rect(x: number, y: number, width: number, height: number): void {
    this.parts.push(`M${short(x)} ${short(y)}h${short(width)}v${short(height)}h${short(-width)}z`)
  }

  closePath(): void {
    this.parts.push('z')
  }
}

function short(number: number): string {
  return String(Math.round(number * 100) / 100)
}
