import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { Command, Option } from 'commander'
import { writeBundle, type LeftOut } from '../core/formats/bundle/write'
import { readPageSettings } from '../core/formats/page/read-settings'
import { writePage, type PageParts } from '../core/formats/page/write'
import { linkStory } from '../core/story/link'
import type { LinkedStory } from '../core/story/linked'
import { surveyStory } from '../core/survey/survey'
import { bound, boundOptions, type Bounds } from './bounds'
import { refuse, warn, writeOut } from './output-file'
import { readInput, type Input } from './read-input'

interface Flags extends Bounds {
  readonly output?: string
  readonly without?: 'unreached'
}

const EXITS = '\nExit codes: 0 written, 2 the file can not be read or written, 70 a fault of the program.'

/** What both have: where to write, and what to leave out. */
function exporting(
  command: Command,
  kind: string,
  write: (input: Input, story: LinkedStory, leftOut?: LeftOut) => string,
) {
  command
    .argument('<file>', 'a story file; "-" reads standard input')
    .option('-o, --output <path>', `where to write the ${kind}; without it standard output`)
    .addOption(
      new Option('--without <what>', 'what to leave out: beats and choices that are on no route').choices([
        'unreached',
      ]),
    )
    .addHelpText('after', EXITS)
    .action(async (path: string, flags: Flags) => {
      const input = await readInput(path)
      if (!input.ok) return refuse(input.error)
      const story = linkStory(input.value.story)
      for (const { address, part, message } of story.problems) warn(`${address} (${part}): ${message}`)
      const leftOut = flags.without === undefined ? undefined : unreached(story, flags)
      const text = write(input.value, story, leftOut)
      await writeOut(flags.output, text)
    })
  for (const option of boundOptions()) command.addOption(option)
  return command
}

export function bundleCommand(): Command {
  const command = new Command('bundle').description('write a story as engines read it')
  return exporting(command, 'bundle', (_, story, leftOut) => `${JSON.stringify(writeBundle(story, leftOut))}\n`)
}

export function buildCommand(): Command {
  const command = new Command('build').description('write a page that plays a story from one file, without a network')
  return exporting(command, 'page', ({ story: doc, text }, story, leftOut) =>
    writePage(
      {
        bundle: writeBundle(story, leftOut),
        settings: readPageSettings(doc),
        story: doc.title,
        version: createHash('sha256').update(text).digest('hex').slice(0, 16),
      },
      JSON.parse(readFileSync(join(import.meta.dirname, '..', 'page', 'parts.json'), 'utf8')) as PageParts,
    ),
  )
}

/** What is left out, told by name; what is not decided stays. */
function unreached(story: LinkedStory, flags: Flags): LeftOut {
  const result = surveyStory(story, { routes: 'none' }, bound(flags))
  const { beats, choices } = result.unreached
  for (const address of [...beats, ...choices]) warn(`left out: ${address}`)
  if (!result.complete) warn('the survey was not done in time; what it had not decided is kept')
  return { beats: new Set(beats), choices: new Set(choices) }
}
