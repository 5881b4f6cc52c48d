import type { RouteItem } from '../../story/types'
import type { Finding, Level } from '../../survey/findings/finding'
import type { SurveyResult } from '../../survey/result'

const SIGNS: Readonly<Record<Level, string>> = { error: 'error  ', warning: 'warning', note: 'note   ' }
const LEVELS: readonly Level[] = ['error', 'warning', 'note']

/** The survey for people: what is reached, then the findings, worst first. */
export function writeSurveyText(name: string, result: SurveyResult): string {
  const { reached, unreached, findings, figures } = result
  const ends = Object.keys(reached.endings).length + Object.keys(reached.stages).length
  const all =
    ends +
    unreached.endings.length +
    unreached.stages.length +
    result.undecided.endings.length +
    result.undecided.stages.length
  const lines = [
    name,
    `  ${ends} of ${all} endings and stages reached · ${result.complete ? 'exact' : 'cut short: some things are undecided'} · ${sayCount(figures.states)} states`,
    ...Object.entries({ ...reached.endings, ...reached.stages }).map(
      ([id, { decisions }]) => `  reached ${id} in ${decisions} decision${decisions === 1 ? '' : 's'}`,
    ),
    ...[...findings].sort((a, b) => LEVELS.indexOf(a.level) - LEVELS.indexOf(b.level)).map(findingLine),
  ]
  return `${lines.join('\n')}\n`
}

/** A number of states as it is read: those beyond a thousand million million are told by their size. */
export function sayCount(states: number): string {
  if (states < 1e15) return String(states)
  if (states === Number.MAX_VALUE) return 'more than 10^308'
  const [digits, power] = states.toExponential(1).split('e+')
  return `${digits!} × 10^${power!}`
}

function findingLine(finding: Finding): string {
  const route =
    finding.route === undefined || finding.route.length === 0 ? '' : `\n            by ${sayRoute(finding.route)}`
  return `  ${SIGNS[finding.level]} ${finding.kind} ${finding.key.join(' ')}: ${finding.message}${route}`
}

/** A route on one line. */
export function sayRoute(route: readonly RouteItem[]): string {
  return route.map(sayItem).join(', ')
}

function sayItem(item: RouteItem): string {
  if ('choice' in item) return item.choice
  if ('word' in item) return `${item.at} "${item.word}"`
  const given = Object.entries(item.given).map(([id, value]) => `${id} = ${JSON.stringify(value)}`)
  return given.length === 0 ? 'nothing given' : `given ${given.join(' and ')}`
}
