import { parse } from 'node:path'
import { Command, Option } from 'commander'
import { fail, ok, type Result } from '../core/base/result'
import type { Form } from '../core/formats/form'
import { FORMS, formCalled } from '../core/formats/forms'
import { portOf, readerOfTexts } from '../core/formats/ports'
import { INCOMING_BYTES } from '../core/formats/payload'
import { applyChange } from '../core/story/changes/apply'
import { linkStory } from '../core/story/link'
import { newStory } from '../core/story/new-story'
import { appendManuscript } from '../core/story/reshape/script-paste'
import type { Story } from '../core/story/types'
import { writeStory } from '../core/story/write'
import type { Fate } from '../core/texts/incoming'
import { changeOfTexts, judgeTexts, rowsToWorkAt } from '../core/texts/proofs'
import { listed } from './export'
import { refuse, warn, writeOut } from './output-file'
import { readBytes, readInput } from './read-input'

interface Flags {
  readonly format?: string
  readonly into?: string
  readonly language?: string
  readonly conflicts: 'leave' | 'take'
  readonly title?: string
  readonly output?: string
}

const IN = FORMS.filter(
  ({ texts, proofs, manuscript }: Form) => texts !== undefined || proofs !== undefined || manuscript !== undefined,
)

export function importCommand(): Command {
  return new Command('import')
    .description('take in a manuscript, or texts that somebody worked on, and write the story with them')
    .argument('<file>', 'what is taken in')
    .addOption(
      new Option('--format <form>', 'its form, of those below; without it its ending tells').choices(
        IN.map(({ id }) => id),
      ),
    )
    .option('--into <story>', 'the story file that it goes into; without it a manuscript becomes a story of its own')
    .option('--language <tag>', "the language of texts; the story's own for what was proof-read")
    .addOption(
      new Option('--conflicts <what>', 'texts that were changed in the story too')
        .choices(['leave', 'take'])
        .default('leave'),
    )
    .option('--title <title>', 'what a new story is called')
    .option('-o, --output <path>', 'where to write the story; without it standard output')
    .addHelpText(
      'after',
      `\nForms:\n${listed(IN, ['texts', 'proofs', 'manuscript'])}\n\nWith --language texts are taken in, without it a manuscript. What becomes of each text is told.\nExit codes: 0 written, 2 something can not be read or written, 70 a fault of the program.`,
    )
    .action(run)
}

async function run(path: string, flags: Flags): Promise<void> {
  const most = `more than ${INCOMING_BYTES / 1024 / 1024} MB are not taken in`
  const bytes = await readBytes(path, INCOMING_BYTES, most)
  if (!bytes.ok) return refuse(`${path}: ${bytes.error}`)
  let into: Story | undefined
  if (flags.into !== undefined) {
    const input = await readInput(flags.into)
    if (!input.ok) return refuse(input.error)
    into = input.value.story
  }
  const name = flags.format ?? path
  const made =
    flags.language === undefined
      ? await manuscriptInto(into, bytes.value, name, flags.title, path)
      : await textsInto(into, bytes.value, name, flags.language, flags.conflicts)
  if (!made.ok) return refuse(`${path}: ${made.error}`)
  await writeOut(flags.output, writeStory(made.value))
}

async function manuscriptInto(
  into: Story | undefined,
  bytes: Uint8Array,
  name: string,
  title: string | undefined,
  path: string,
): Promise<Result<Story>> {
  const form = formCalled('manuscript', name)
  if (form === undefined) return fail('its ending tells of no form that is read; --format names one')
  const read = await (await portOf('manuscript', form))(bytes)
  if (!read.ok) return read
  const called = title ?? read.value.title ?? parse(path).name
  // a new story has nothing but what is taken in
  const story: Story = into ?? { ...newStory(called), start: '', scenes: [] }
  let count = 0
  const taken = appendManuscript(story, read.value.parts, called, (text) => ({ id: `line${(count += 1)}`, text }))
  const applied = applyChange(story, taken.change)
  if (!applied.ok) return applied
  const made = applied.value.story
  return ok(made.start === '' ? { ...made, start: taken.first } : made)
}

const SAYS: Readonly<Record<Fate, string>> = {
  new: 'new',
  changed: 'changed',
  conflict: 'changed in the story too',
  broken: 'would not play',
  unknown: 'not in the story',
  same: 'as they are',
  empty: 'empty',
}

async function textsInto(
  story: Story | undefined,
  bytes: Uint8Array,
  name: string,
  language: string,
  conflicts: 'leave' | 'take',
): Promise<Result<Story>> {
  if (story === undefined) return fail('texts go into a story: --into names it')
  const read = await readerOfTexts(name, language === story.language)
  if (read === undefined) return fail('its ending tells of no form of texts that is read; --format names one')
  const file = await read(bytes)
  if (!file.ok) return file
  const linked = linkStory(story)
  const judged = judgeTexts(linked, language, rowsToWorkAt(linked, language), file.value.texts)
  const counts = new Map<Fate, number>()
  for (const {
    fate,
    incoming: { key },
    why,
  } of judged) {
    counts.set(fate, (counts.get(fate) ?? 0) + 1)
    if (fate === 'conflict' || fate === 'broken' || fate === 'unknown')
      warn(`${key}: ${SAYS[fate]}${why === undefined ? '' : ` (${why})`}`)
  }
  warn([...counts].map(([fate, count]) => `${count} ${SAYS[fate]}`).join(', '))
  const chosen = judged.filter(
    ({ fate }) => fate === 'new' || fate === 'changed' || (fate === 'conflict' && conflicts === 'take'),
  )
  const change = changeOfTexts(story, language, chosen)
  if (change === undefined || chosen.length === 0) return ok(story)
  const applied = applyChange(story, change)
  return applied.ok ? ok(applied.value.story) : applied
}
