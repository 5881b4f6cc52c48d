import { directionOf } from '../../base/direction'
import { escapeXml } from '../../base/xml'
import type { Block, ReadingCopy } from '../../reading/copy'
import { readableText } from '../../story/readable'
import { COPY_STYLE } from './style'

/** A reading copy as a page to print or to keep as PDF: running heads, numbered pages, nothing of the interface. */
export function writeCopyHtml(copy: ReadingCopy): string {
  const { title, part, author, language, made, blocks } = copy
  const date = new Intl.DateTimeFormat([language, 'en'], { dateStyle: 'long', timeZone: 'UTC' }).format(made)
  const head = part === undefined ? title : `${title}: ${part}`
  return `<!doctype html>
<html lang="${escapeXml(language)}" dir="${directionOf(language)}">
<head>
<meta charset="utf-8">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeXml(head)}</title>
<style>${COPY_STYLE}
@page { @top-center { content: "${cssText(head)}" } @bottom-center { content: counter(page) " / " counter(pages) } }
</style>
</head>
<body>
<header><h1>${escapeXml(title)}</h1>${part === undefined ? '' : `<p class="part">${escapeXml(part)}</p>`}${author === undefined ? '' : `<p>${escapeXml(author)}</p>`}<p class="date">${escapeXml(date)}</p></header>
<main>
${blocks.map(written).join('\n')}
</main>
</body>
</html>
`
}

function written(block: Block): string {
  const words = (text: string) => escapeXml(readableText(text)).replaceAll('\n', '<br>')
  const aside = (remarks: readonly string[]) =>
    remarks.length === 0 ? '' : `<span class="aside">${escapeXml(remarks.join(', '))}</span>`
  const goes = (to: { readonly title: string; readonly address: string } | undefined) =>
    to === undefined ? '' : `<span class="to"><a href="#${escapeXml(to.address)}">${escapeXml(to.title)}</a></span>`
  const notes = (text: string | undefined) => (text === undefined ? '' : `<p class="notes">${words(text)}</p>`)
  switch (block.of) {
    case 'scene':
      return `<h2>${escapeXml(block.title)}</h2>${notes(block.notes)}`
    case 'beat':
      return `<h3 id="${escapeXml(block.address)}">${escapeXml(block.title)}</h3>${notes(block.notes)}`
    case 'remark':
      return `<p class="remark d${block.depth}">${escapeXml(block.text)}${goes(block.to)}</p>`
    case 'line': {
      const who = block.who === undefined ? '' : `<b class="who">${escapeXml(block.who)}</b>`
      return `<p class="line ${block.manner} d${block.depth}">${who}<span>${words(block.text)}</span>${aside(block.remarks)}</p>`
    }
    case 'choice':
      return `<p class="choice">${block.who === undefined ? '' : `<b class="who">${escapeXml(block.who)}</b>`}<span>${words(block.text)}</span>${goes(block.to)}${aside(block.remarks)}</p>`
    case 'prompt':
      return `<p class="choice prompt"><span>${words(block.text)}</span>${aside(block.suggest)}</p>`
    case 'took':
      return `<p class="choice took"><span>${words(block.text)}</span></p>`
    case 'ending':
      return `<p class="ending">${escapeXml(block.name)}</p>`
  }
}

/** A text within a string of a style sheet. */
function cssText(text: string): string {
  return text.replaceAll(/["\\<\n\r]/g, (sign) => `\\${sign.charCodeAt(0).toString(16)} `)
}
