const HEADING = /^H[1-6]$/
const BLOCK = /^(?:P|DIV|SECTION|ARTICLE|BLOCKQUOTE|UL|OL|TABLE|TR|PRE)$/

/** The text on a clipboard; from a word processor with its headings and lists marked as such. */
export function textOf(clipboard: DataTransfer): string {
  const html = clipboard.getData('text/html')
  // an editor of code puts every row into a block of its own: its plain text is better
  return /<(?:h[1-6]|li|p)\b/i.test(html) ? textOfHtml(html) : clipboard.getData('text/plain')
}

/** Nothing of a page is loaded or run: it is only read. */
function textOfHtml(html: string): string {
  const { body } = new DOMParser().parseFromString(html, 'text/html')
  let text = ''
  const visit = (node: Node): void => {
    if (node.nodeType === Node.TEXT_NODE) {
      text += (node.textContent ?? '').replace(/\s+/g, ' ')
      return
    }
    if (!(node instanceof Element) || node.matches('style, script, title')) return
    const { tagName } = node
    if (tagName === 'BR') {
      text += '\n'
      return
    }
    const isHeading = HEADING.test(tagName)
    const isItem = tagName === 'LI'
    if (isHeading || isItem || BLOCK.test(tagName)) text = `${text.trimEnd()}${isItem ? '\n' : '\n\n'}`
    if (isHeading) text += '# '
    if (isItem) text += '- '
    node.childNodes.forEach(visit)
    if (isHeading || BLOCK.test(tagName)) text = `${text.trimEnd()}\n\n`
  }
  body.childNodes.forEach(visit)
  // a list item that is a paragraph within
  return text.replace(/^- *\n+/gm, '- ').trim()
}
