import type { Carried } from '../../survey/carry/carried'
import { sayCount, sayRoute } from '../survey-text/write'

/** What becomes of saves, as the command line prints it (docs/story-document.md, "Saves"). */
export function* writeCarriedJson({ complete, findings, figures }: Carried): Generator<string> {
  yield `{\n  "complete": ${complete},\n  "findings": [`
  let before = ''
  for (const finding of findings) {
    yield `${before}\n    ${JSON.stringify(finding)}`
    before = ','
  }
  yield `${findings.length === 0 ? '' : '\n  '}],\n  "figures": ${JSON.stringify(figures)}\n}\n`
}

/** The same to be read. */
export function writeCarriedText(names: readonly [string, string], { complete, findings, figures }: Carried): string {
  const [old, now] = names
  const head = `${old} to ${now}: ${sayCount(figures.saves)} different saves${complete ? '' : ', not all looked at'}`
  const lines = findings.map(({ kind, level, key, message, route }) => {
    const by = route.length === 0 ? '' : `\n            by ${sayRoute(route)}`
    return `  ${level.padEnd(7)} ${kind} ${key.join(' ')}: ${message}${by}`
  })
  return `${[head, ...(lines.length === 0 ? ['  nothing happens to players who are in the middle'] : lines)].join('\n')}\n`
}
