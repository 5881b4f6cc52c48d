import { Command, Option } from 'commander'
import { inOneGo } from '../core/base/slices'
import { writeCarriedJson, writeCarriedText } from '../core/formats/carried/write'
import { linkStory } from '../core/story/link'
import { carryOver } from '../core/survey/carry/carry'
import { bound, boundOptions, type Bounds } from './bounds'
import { print } from './output'
import { readInput } from './read-input'

interface Flags extends Bounds {
  readonly format: 'json' | 'text'
  readonly strict?: true
}

export function carryCommand(): Command {
  const command = new Command('carry')
    .description('what becomes of players who are in the middle of OLD when NEW takes its place')
    .argument('<old>', 'the story file that was played so far; "-" reads standard input')
    .argument('<new>', 'the one that their saves are loaded into')
    .addOption(new Option('--format <format>', 'how to print the answer').choices(['json', 'text']).default('json'))
    .option('--strict', 'warnings fail as well as errors, and what was left undecided with code 3')
    .addHelpText(
      'after',
      '\nExit codes: 0 no error was found, 1 some were, 2 a file can not be read, 3 (--strict) something is undecided, 70 a fault of the program.',
    )
    .action(run)
  for (const option of boundOptions()) command.addOption(option)
  return command
}

async function run(old: string, now: string, flags: Flags): Promise<void> {
  const isOver = bound(flags)
  const stories: { name: string; story: ReturnType<typeof linkStory> }[] = []
  for (const path of [old, now]) {
    const input = await readInput(path)
    if (!input.ok) {
      process.stderr.write(`${input.error}\n`)
      process.exitCode = 2
      return
    }
    stories.push({ name: input.value.name, story: linkStory(input.value.story) })
  }
  const [before, after] = stories
  const carried = inOneGo(carryOver(before!.story, after!.story, isOver))
  await print(
    flags.format === 'json' ? writeCarriedJson(carried) : [writeCarriedText([before!.name, after!.name], carried)],
  )
  const fails = carried.findings.some(
    ({ level }) => level === 'error' || (flags.strict === true && level === 'warning'),
  )
  process.exitCode = fails ? 1 : flags.strict === true && !carried.complete ? 3 : 0
}
