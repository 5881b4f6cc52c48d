import { Command, InvalidArgumentError, Option } from 'commander'
import { never } from '../core/base/assert'
import { writeSurveyJson } from '../core/formats/survey-json/write'
import { writeSurveyText } from '../core/formats/survey-text/write'
import { writeSurveySarif } from '../core/formats/survey-sarif/write'
import { linkStory } from '../core/story/link'
import type { Finding } from '../core/survey/findings/finding'
import { surveyStory } from '../core/survey/survey'
import { locator } from './locate'
import { readInput } from './read-input'
import type { Surveyed } from './surveyed'
import { VERSION } from './version'
import { writeSurveyJunit } from './write-junit'

const FORMATS = ['text', 'json', 'sarif', 'junit'] as const

interface Flags {
  readonly format: (typeof FORMATS)[number]
  readonly strict?: true
  readonly budget?: number
}

function write({ format }: Flags, all: readonly Surveyed[], fails: (finding: Finding) => boolean): string {
  switch (format) {
    case 'text':
      return all.map(({ input, result }) => writeSurveyText(input.name, result)).join('\n')
    case 'json':
      return all.map(({ result }) => writeSurveyJson(result)).join('')
    case 'sarif':
      return writeSurveySarif(
        VERSION,
        all.map(({ input, result }) => ({ file: input.name, result, placeOf: locator(input.text, input.story) })),
      )
    case 'junit':
      return writeSurveyJunit(all, fails)
    default:
      return never(format)
  }
}

export function surveyCommand(): Command {
  return new Command('survey')
    .description('survey story files: what is reached, what is not, and why; "-" reads standard input')
    .argument('<file...>', 'story files (*.story.json)')
    .addOption(new Option('--format <format>', 'how to print the answer').choices(FORMATS).default('text'))
    .option('--strict', 'warnings fail as well as errors')
    .option('--budget <seconds>', 'answer after this long with what is decided by then', seconds)
    .addHelpText('after', '\nExit codes: 0 no error was found, 1 some were, 2 a file can not be read.')
    .action(run)
}

function seconds(text: string): number {
  const value = Number(text)
  if (!Number.isFinite(value) || value < 0) throw new InvalidArgumentError('expected a number of seconds')
  return value
}

async function run(paths: readonly string[], flags: Flags): Promise<void> {
  const all: Surveyed[] = []
  for (const path of paths) {
    const input = await readInput(path)
    if (!input.ok) {
      process.stderr.write(`${input.error}\n`)
      process.exitCode = 2
      return
    }
    const until = flags.budget === undefined ? Infinity : performance.now() + flags.budget * 1000
    const result = surveyStory(linkStory(input.value.story), { routes: 'every' }, () => performance.now() >= until)
    all.push({ input: input.value, result })
  }
  const fails = ({ level }: Finding) => level === 'error' || (flags.strict === true && level === 'warning')
  process.stdout.write(write(flags, all, fails))
  process.exitCode = all.some(({ result }) => result.findings.some(fails)) ? 1 : 0
}
