import { directionOf } from '../../base/direction'
import { escapeXml } from '../../base/xml'
import type { VoiceRow, VoicesOf } from '../../voices/takes'

const STYLE = `
@page { size: A4; margin: 18mm 15mm; @bottom-center { content: counter(page) " / " counter(pages); font: 9pt Georgia, serif } }
html { font: 12pt/1.5 Georgia, 'Times New Roman', serif; color: #1d1a16; background: #fff }
body { max-width: 46rem; margin: 2rem auto; padding: 0 1rem }
h1 { font-size: 1.5rem; margin: 0 } header p { margin: .2rem 0 1.5rem; font-style: italic; color: #555 }
section { break-inside: avoid; border-top: 1px solid #bbb; padding: .6rem 0 }
.who { font-variant: small-caps; font-weight: 600; letter-spacing: .03em }
.text { font-size: 1.15rem; margin: .2rem 0 } .action, .thought { font-style: italic }
.more { font: 9pt/1.3 Arial, sans-serif; color: #555; margin: 0 } .take { float: inline-end; border: 1px solid #bbb; width: 7rem; height: 1.6rem }
@media print { body { max-width: none; margin: 0; padding: 0 } }
`

/** A recording script to print: large texts, room to note the take, what was said before and what the file is called. */
export function writeVoicesHtml(of: VoicesOf, rows: readonly VoiceRow[]): string {
  const { title, language, part, recorded } = of
  const sections = rows.map(({ file, who, text, manner, situation, before, cue }) => {
    const was = recorded.get(file)
    const known = was === undefined ? '' : was === text ? 'recorded' : `recorded as: ${was}`
    const more = [situation, before === '' ? '' : `after: ${before}`, cue === '' ? '' : `cue: ${cue}`, known, file]
    return (
      `<section><div class="take"></div><p class="who">${escapeXml(who)}</p>` +
      `<p class="text ${manner}">${escapeXml(text).replaceAll('\n', '<br>')}</p>` +
      more
        .filter((one) => one !== '')
        .map((one) => `<p class="more" dir="auto">${escapeXml(one)}</p>`)
        .join('') +
      '</section>'
    )
  })
  const head = part === '' ? title : `${title}: ${part}`
  return `<!doctype html>
<html lang="${escapeXml(language)}" dir="${directionOf(language)}">
<head><meta charset="utf-8"><meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">
<meta name="viewport" content="width=device-width, initial-scale=1"><title>${escapeXml(head)}</title><style>${STYLE}</style></head>
<body><header><h1>${escapeXml(head)}</h1><p>${rows.length} texts</p></header>
${sections.join('\n')}
</body></html>
`
}
