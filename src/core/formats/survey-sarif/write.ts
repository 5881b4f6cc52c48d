import type { Log, Result as SarifResult } from 'sarif'
import { FINDING_KINDS, type Finding, type Level } from '../../survey/findings/finding'
import type { SurveyResult } from '../../survey/result'
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

/** Surveys as SARIF 2.1.0 (OASIS), for code-scanning displays. */
export function writeSurveySarif(version: string, inputs: readonly SarifInput[]): string {
  const rules = Object.entries(FINDING_KINDS).map(([id, { meaning }]) => ({ id, shortDescription: { text: meaning } }))
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
