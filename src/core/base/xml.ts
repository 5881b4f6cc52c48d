/** Signs that XML 1.0 can not hold, as a class for regular expressions; what is no whole character comes beside them. */
export const UNFIT_FOR_XML = '\\u0000-\\u0008\\u000b\\u000c\\u000e-\\u001f\\ufffe\\uffff'
const UNFIT = new RegExp(`[${UNFIT_FOR_XML}]`, 'g')

/** A text without what XML 1.0 can not hold. */
export function fitForXml(text: string): string {
  return text.toWellFormed().replace(UNFIT, '')
}

/** A text as XML 1.0 takes it: signs of its own escaped, what it can not hold left out. */
export function escapeXml(text: string): string {
  return fitForXml(text)
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')
    .replaceAll('\r', '&#13;')
}
