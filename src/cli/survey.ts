import { Command, Option } from 'commander'
import { never } from '../core/base/assert'
import { writeSurveyJson } from '../core/formats/survey-json/write'
import { writeSurveyText } from '../core/formats/survey-text/write'
import { writeSurveySarif } from '../core/formats/survey-sarif/write'
import { linkStory } from '../core/story/link'
import type { Finding } from '../core/survey/findings/finding'
import { surveyStory } from '../core/survey/survey'
import { bound, boundOptions, type Bounds } from './bounds'
import { locator } from './locate'
import { print } from './output'
import { readInput } from './read-input'
import type { Surveyed } from './surveyed'
import { VERSION } from './version'

const FORMATS = ['text', 'json', 'sarif', 'junit'] as const

const ROUTES = ['all', 'ends', 'none'] as const

interface Flags extends Bounds {
  readonly format: (typeof FORMATS)[number]
  readonly routes: (typeof ROUTES)[number]
  readonly strict?: true
}

async function written(
  { format }: Flags,
  all: readonly Surveyed[],
  fails: (finding: Finding) => boolean,
): Promise<Iterable<string>> {
  switch (format) {
    case 'text':
      return [all.map(({ input, result }) => writeSurveyText(input.name, result)).join('\n')]
    case 'json':
      return jsonOf(all)
    case 'sarif':
      return [
        writeSurveySarif(
          VERSION,
          all.map(({ input, result }) => ({ file: input.name, result, placeOf: locator(input.text, input.story) })),
        ),
      ]
    case 'junit': {
      // loaded here, since what writes XML is large
      const { writeSurveyJunit } = await import('./write-junit')
      return [writeSurveyJunit(all, fails)]
    }
    default:
      return never(format)
  }
}

function* jsonOf(all: readonly Surveyed[]): Generator<string> {
  for (const { result } of all) yield* writeSurveyJson(result)
}

export function surveyCommand(): Command {
  const command = new Command('survey')
    .description('survey story files: what is reached, what is not, and why; "-" reads standard input')
    .argument('<file...>', 'story files (*.story.json)')
    .addOption(new Option('--format <format>', 'how to print the answer').choices(FORMATS).default('text'))
    .addOption(
      new Option(
        '--routes <which>',
        'the routes that JSON gives: to everything, to endings, stages, promises and findings, or none',
      )
        .choices(ROUTES)
        .default('ends'),
    )
    .option('--strict', 'warnings fail as well as errors, and what was left undecided with code 3')
    .addHelpText(
      'after',
      '\nExit codes: 0 no error was found, 1 some were, 2 a file can not be read, 3 (--strict) something is undecided, 70 a fault of the program.',
    )
    .action(run)
  for (const option of boundOptions()) command.addOption(option)
  return command
}

async function run(paths: readonly string[], flags: Flags): Promise<void> {
  const all: Surveyed[] = []
  const isOver = bound(flags)
  for (const path of paths) {
    const input = await readInput(path)
    if (!input.ok) {
      process.stderr.write(`${input.error}\n`)
      process.exitCode = 2
      return
    }
    const result = surveyStory(linkStory(input.value.story), { routes: flags.routes, limits: { isOver } }, isOver)
    all.push({ input: input.value, result })
  }
  const fails = ({ level }: Finding) => level === 'error' || (flags.strict === true && level === 'warning')
  await print(await written(flags, all, fails))
  const isUndecided = flags.strict === true && all.some(({ result }) => !result.complete)
  process.exitCode = all.some(({ result }) => result.findings.some(fails)) ? 1 : isUndecided ? 3 : 0
}
