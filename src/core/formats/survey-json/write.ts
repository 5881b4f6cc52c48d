import type { SurveyResult } from '../../survey/result'

/** The survey as the command line prints it (docs/story-document.md, "The command line"), in parts: routes can be long and many. */
export function* writeSurveyJson(result: SurveyResult): Generator<string> {
  const { complete, reached, unreached, undecided, promises, findings, figures } = result
  yield `{\n  "complete": ${complete},\n  "reached": {`
  let before = ''
  for (const [what, found] of Object.entries(reached)) {
    yield `${before}\n    "${what}": `
    yield* writeEntries(Object.entries(found), '    ')
    before = ','
  }
  yield `\n  },\n  "unreached": ${indented(unreached)},\n  "undecided": ${indented(undecided)},\n  "promises": `
  yield* writeEntries(
    Object.entries(promises).filter(([, { verdict }]) => verdict !== 'undecided'),
    '  ',
  )
  yield `,\n  "findings": [`
  before = ''
  for (const finding of findings) {
    yield `${before}\n    ${JSON.stringify(finding)}`
    before = ','
  }
  yield `${findings.length === 0 ? '' : '\n  '}],\n  "figures": ${indented(figures)}\n}\n`
}

function* writeEntries(entries: readonly (readonly [string, unknown])[], indent: string): Generator<string> {
  yield '{'
  let before = ''
  for (const [key, value] of entries) {
    yield `${before}\n${indent}  ${JSON.stringify(key)}: ${JSON.stringify(value)}`
    before = ','
  }
  yield entries.length === 0 ? '}' : `\n${indent}}`
}

function indented(value: unknown): string {
  return JSON.stringify(value, null, 2).replaceAll('\n', '\n  ')
}
