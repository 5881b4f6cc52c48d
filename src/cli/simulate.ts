import { Command, InvalidArgumentError, Option } from 'commander'
import { never } from '../core/base/assert'
import { fail, ok, type Result } from '../core/base/result'
import { writeCsv } from '../core/formats/csv/csv'
import { simulationTable } from '../core/formats/simulation-table/write'
import { writeSimulationText } from '../core/formats/simulation-text/write'
import type { Player } from '../core/simulate/player'
import { readDraw, type GivenDraw, type GivenDraws } from '../core/simulate/given-draws'
import type { SimulationResult } from '../core/simulate/result'
import { playersSurvey } from '../core/simulate/players-survey'
import { Simulation } from '../core/simulate/simulation'
import { linkStory } from '../core/story/link'
import type { LinkedStory } from '../core/story/linked'
import { bound, boundOptions, type Bounds } from './bounds'
import { print } from './output'
import { readInput } from './read-input'

const FORMATS = ['text', 'json', 'csv'] as const
const PLAYS = 2_000
const WORDS_PER_MINUTE = 200

interface Flags extends Bounds {
  readonly player: Player
  readonly plays: number
  readonly seed: number
  readonly given: readonly (readonly [id: string, source: string])[]
  readonly wordsPerMinute: number
  readonly format: (typeof FORMATS)[number]
}

export function simulateCommand(): Command {
  const command = new Command('simulate')
    .description('play a story through many times and tell what players meet; "-" reads standard input')
    .argument('<file>', 'a story file (*.story.json)')
    .addOption(
      new Option(
        '--player <player>',
        'random, curious (looks for text not read yet) or ending:ID (goes for that ending)',
      )
        .argParser(player)
        .default({ kind: 'random' } satisfies Player, 'random'),
    )
    .addOption(new Option('--plays <number>', 'how many playthroughs').argParser(atLeastOne).default(PLAYS))
    .addOption(new Option('--seed <number>', 'the same seed gives the same figures').argParser(seedNumber).default(1))
    .addOption(
      new Option(
        '--given <entry=values>',
        'how the game comes to what it gives: level=1..20 or weather=rain:3,sun:1 (may be said again for another entry; otherwise each value is as likely as another)',
      )
        .argParser(assignment)
        .default([], 'uniform'),
    )
    .addOption(
      new Option('--words-per-minute <number>', 'how fast the player reads')
        .argParser(atLeastOne)
        .default(WORDS_PER_MINUTE),
    )
    .addOption(new Option('--format <format>', 'how to print the figures').choices(FORMATS).default('text'))
    .addHelpText(
      'after',
      '\nExit codes: 0 done, 2 the file can not be read or no route comes to the ending, 3 the way to the ending was not found within the budget or the memory, 70 a fault of the program.',
    )
    .action(run)
  for (const option of boundOptions()) command.addOption(option)
  return command
}

function player(text: string): Player {
  if (text === 'random' || text === 'curious') return { kind: text }
  const ending = /^ending:(.+)$/.exec(text)?.[1]
  if (ending === undefined) throw new InvalidArgumentError('expected random, curious or ending:ID')
  return { kind: 'bound', ending }
}

function atLeastOne(text: string): number {
  const value = Number(text)
  if (!Number.isSafeInteger(value) || value < 1) throw new InvalidArgumentError('expected a whole number of at least 1')
  return value
}

function seedNumber(text: string): number {
  const value = Number(text)
  if (!Number.isSafeInteger(value) || value < 0 || value > 0xffffffff)
    throw new InvalidArgumentError('expected a whole number from 0 to 4294967295')
  return value
}

function assignment(
  text: string,
  before: readonly (readonly [string, string])[] = [],
): readonly (readonly [string, string])[] {
  const at = text.indexOf('=')
  if (at < 1) throw new InvalidArgumentError('expected an entry, =, and its values')
  return [...before, [text.slice(0, at).trim(), text.slice(at + 1)]]
}

/** What is asked for as the simulation takes it, or why it can't be. */
function drawsOf(story: LinkedStory, given: Flags['given']): Result<GivenDraws> {
  const draws: Record<string, GivenDraw> = {}
  for (const [id, source] of given) {
    const entry = story.entries[story.entryOf.get(id) ?? -1]
    if (entry === undefined) return fail(`there is no ledger entry "${id}"`)
    const draw = readDraw(entry, source)
    if (!draw.ok) return draw
    draws[id] = draw.value
  }
  return ok(draws)
}

async function run(path: string, flags: Flags): Promise<void> {
  const input = await readInput(path)
  if (!input.ok) return refuse(input.error)
  const story = linkStory(input.value.story)
  const given = drawsOf(story, flags.given)
  if (!given.ok) return refuse(`${input.value.name}: ${given.error}`)
  const stop = bound(flags)
  let isCutShort = false
  const simulation = Simulation.of(story, { player: flags.player, seed: flags.seed, given: given.value }, () =>
    playersSurvey(story, () => {
      isCutShort = stop()
      return isCutShort
    }),
  )
  if (isCutShort) {
    refuse(
      `${input.value.name}: undecided: which choices lead to the ending was not found out within the budget or the memory`,
    )
    process.exitCode = 3
    return
  }
  if (!simulation.ok) return refuse(`${input.value.name}: ${simulation.error}`)
  simulation.value.advance(flags.plays)
  await print([write(flags, input.value.name, simulation.value.result())])
}

function write({ format, wordsPerMinute }: Flags, name: string, result: SimulationResult): string {
  switch (format) {
    case 'text':
      return writeSimulationText(name, result, wordsPerMinute)
    case 'json':
      return `${JSON.stringify(result, undefined, 2)}\n`
    case 'csv':
      return `${writeCsv(simulationTable(result), '\n')}\n`
    default:
      return never(format)
  }
}

function refuse(message: string): void {
  process.stderr.write(`${message}\n`)
  process.exitCode = 2
}
