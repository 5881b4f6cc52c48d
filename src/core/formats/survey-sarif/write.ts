import type { Log, Result as SarifResult } from 'sarif'
import type { Finding, FindingKind, Level, SurveyResult } from '../../survey/result'
import { sayRoute } from '../survey-text/write'

/** Where a finding is to be mended in a story file; line and column count from 1. */
export interface FilePlace {
  readonly line: number
  readonly column: number
}

export interface SarifInput {
  /** The file as it was named on the command line. */
  readonly file: string
  readonly result: SurveyResult
  readonly placeOf: (finding: Finding) => FilePlace
}

const LEVELS: Readonly<Record<Level, NonNullable<SarifResult['level']>>> = {
  error: 'error',
  warning: 'warning',
  note: 'note',
}

const RULES: Readonly<Record<FindingKind, string>> = {
  problem: 'A part of the story can not be understood.',
  unreached: 'No route comes here.',
  'dead-end': 'The player can get stuck.',
  'no-way-out': 'A decision after which no ending can be reached.',
  'endless-run': 'The story goes round by itself and never stops.',
  'promise-broken': 'A promise does not hold.',
  'route-broken': 'A kept route no longer plays as expected.',
  'undeclared-move': 'A quest makes a move that it does not declare.',
  'stranded-stage': 'A quest can no longer come to an outcome.',
  'left-open': 'The story can end with a quest under way.',
  overrun: 'An effect would leave the range of its entry.',
  'unset-text': 'A text entry is shown while it is empty.',
  'always-open': 'A condition is never false.',
  unread: 'Nothing reads an entry.',
  unwritten: 'Nothing changes an entry.',
}

/** Surveys as SARIF 2.1.0 (OASIS), for code-scanning displays. */
export function writeSurveySarif(version: string, inputs: readonly SarifInput[]): string {
  const rules = Object.entries(RULES).map(([id, text]) => ({ id, shortDescription: { text } }))
  const results = inputs.flatMap(({ file, result, placeOf }) =>
    result.findings.map((finding): SarifResult => {
      const { line, column } = placeOf(finding)
      const route =
        finding.route === undefined || finding.route.length === 0 ? '' : ` Route: ${sayRoute(finding.route)}.`
      return {
        ruleId: finding.kind,
        ruleIndex: rules.findIndex(({ id }) => id === finding.kind),
        level: LEVELS[finding.level],
        message: { text: `${finding.key.join(' ')}: ${finding.message}.${route}` },
        locations: [
          {
            physicalLocation: {
              artifactLocation: { uri: uriOf(file) },
              region: { startLine: line, startColumn: column },
            },
          },
        ],
        partialFingerprints: { finding: [finding.kind, ...finding.key].join('/') },
      }
    }),
  )
  const log: Log = {
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    version: '2.1.0',
    runs: [{ tool: { driver: { name: 'Paper Compass', version, rules } }, columnKind: 'utf16CodeUnits', results }],
  }
  return `${JSON.stringify(log, null, 2)}\n`
}

/** A file's name as a URI reference: a relative one stays relative, whatever characters its parts hold. */
function uriOf(file: string): string {
  const path = file.split('/').map(encodeURIComponent).join('/')
  return path.startsWith('/') ? `file://${path}` : path
}
