import { escapeXml } from '../../base/xml'
import type { Bundle } from '../bundle/format'
import type { PageSettings } from './settings'

/** What makes the page go, as it was built: its script and its style, each with the digest that its policy allows it by. */
export interface PageParts {
  readonly script: string
  readonly style: string
  /** `sha256-…` of each. */
  readonly scriptDigest: string
  readonly styleDigest: string
}

export interface PageOf {
  readonly bundle: Bundle
  readonly settings: PageSettings
  /** The same for all versions of a story: under it the reader's browser keeps how far they are. */
  readonly story: string
  readonly version: string
}

/**
 * A page that plays a story from one file. Its policy allows its own script and style and nothing else, and the story in
 * it is data: no text of it can become markup.
 */
export function writePage(of: PageOf, { script, style, scriptDigest, styleDigest }: PageParts): string {
  const policy = [
    "default-src 'none'",
    `script-src '${scriptDigest}'`,
    `style-src '${styleDigest}'`,
    "base-uri 'none'",
    "form-action 'none'",
  ].join('; ')
  return `<!doctype html>
<html lang="${escapeXml(of.bundle.language)}">
<head>
<meta charset="utf-8">
<meta http-equiv="Content-Security-Policy" content="${policy}">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="referrer" content="no-referrer">
<title>${escapeXml(of.bundle.title)}</title>
<style>${style}</style>
</head>
<body>
<div id="page"><noscript>${escapeXml(of.bundle.title)} needs JavaScript, which this browser does not run.</noscript></div>
<script type="application/json" id="story">${asData(of)}</script>
<script>${script}</script>
</body>
</html>
`
}

/** JSON that nothing in it can end. */
function asData(value: unknown): string {
  return JSON.stringify(value).replace(
    /[<\u2028\u2029]/g,
    (sign) => `\\u${sign.charCodeAt(0).toString(16).padStart(4, '0')}`,
  )
}
