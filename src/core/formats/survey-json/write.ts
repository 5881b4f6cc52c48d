import type { SurveyResult } from '../../survey/result'

/** The survey as the command line prints it (docs/story-format.md, "The command line"). */
export function writeSurveyJson(result: SurveyResult): string {
  const { complete, reached, unreached, undecided, promises, findings, figures } = result
  const verdicts = Object.fromEntries(Object.entries(promises).filter(([, { verdict }]) => verdict !== 'undecided'))
  return `${JSON.stringify({ complete, reached, unreached, undecided, promises: verdicts, findings, figures }, null, 2)}\n`
}
