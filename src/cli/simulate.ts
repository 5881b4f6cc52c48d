import { Command, InvalidArgumentError, Option } from 'commander'
import { never } from '../core/base/assert'
import { writeCsv } from '../core/formats/csv/csv'
import { simulationTable } from '../core/formats/simulation-table/write'
import { writeSimulationText } from '../core/formats/simulation-text/write'
import type { Player } from '../core/simulate/player'
import { Simulation, type SimulationResult } from '../core/simulate/simulation'
import { linkStory } from '../core/story/link'
import { Survey } from '../core/survey/survey'
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

async function run(path: string, flags: Flags): Promise<void> {
  const input = await readInput(path)
  if (!input.ok) return refuse(input.error)
  const story = linkStory(input.value.story)
  const stop = bound(flags)
  let isCutShort = false
  const simulation = Simulation.of(story, { player: flags.player, seed: flags.seed }, () => {
    // players go from state to state
    const survey = new Survey(story, { explicit: Infinity })
    while (!survey.advance()) {
      if (!stop()) continue
      isCutShort = true
      break
    }
    return survey
  })
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
