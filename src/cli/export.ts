import { Command, Option } from 'commander'
import type { Form, Use } from '../core/formats/form'
import { FORMS, formCalled } from '../core/formats/forms'
import { portOf } from '../core/formats/ports'
import type { Payload } from '../core/formats/payload'
import { copyAsked } from '../core/reading/asked'
import { fail, ok, type Result } from '../core/base/result'
import { linkStory } from '../core/story/link'
import type { LinkedStory } from '../core/story/linked'
import { surveyStory } from '../core/survey/survey'
import { inOneGo } from '../core/base/slices'
import { spokenValues } from '../core/survey/questions/spoken-values'
import { voiceRows } from '../core/voices/script'
import { recordedIn, stillToRecord } from '../core/voices/takes'
import { rowsToWorkAt } from '../core/texts/proofs'
import { bound, boundOptions, type Bounds } from './bounds'
import { refuse, warn, writeOut } from './output-file'
import { readInput } from './read-input'

interface Flags extends Bounds {
  readonly format: string
  readonly language?: string
  readonly scene?: string
  readonly route?: string
  readonly ending?: string
  readonly voices?: true
  readonly open?: true
  readonly output?: string
}

const OUT_USES = ['texts', 'copy', 'voices', 'chart'] as const
const OUT = FORMS.filter((form) => OUT_USES.some((use) => form[use] !== undefined))

/** What each form is for, a row each. */
export function listed(forms: readonly Form[], uses: readonly Use[]): string {
  const names: Record<Use, string> = {
    texts: 'texts',
    copy: 'copy',
    voices: 'voices',
    chart: 'chart',
    manuscript: 'manuscript',
    proofs: 'texts',
  }
  return forms
    .flatMap((form) =>
      uses.flatMap((use) => {
        const way = form[use]
        return way === undefined ? [] : [`  ${form.id.padEnd(10)}${names[use].padEnd(12)}${way.says}`]
      }),
    )
    .join('\n')
}

export function exportCommand(): Command {
  const command = new Command('export')
    .description('write the texts of a story in a language, a copy of it to be read, or its course as a state chart')
    .argument('<file>', 'a story file; "-" reads standard input')
    .addOption(
      new Option('--format <form>', 'the form, of those below').choices(OUT.map(({ id }) => id)).makeOptionMandatory(),
    )
    .option('--language <tag>', "the language whose texts are written; the story's own to proof-read")
    .option('--scene <id>', 'only what stands in this scene')
    .option('--route <id>', 'a kept route, played')
    .option('--ending <id>', 'the shortest way to this ending, played')
    .option('--voices', 'a script for those who record voices')
    .option('--open', 'of what is to be recorded only what is not marked as recorded as it reads now')
    .option('-o, --output <path>', 'where to write; without it standard output')
    .addHelpText(
      'after',
      `\nForms:\n${listed(OUT, OUT_USES)}\n\nWith --voices a recording script is written, else with --language texts, else a copy.\nExit codes: 0 written, 2 something can not be read or written, 70 a fault of the program.`,
    )
    .action(run)
  for (const option of boundOptions()) command.addOption(option)
  return command
}

async function run(path: string, flags: Flags): Promise<void> {
  const input = await readInput(path)
  if (!input.ok) return refuse(input.error)
  if (flags.open && !flags.voices) return refuse('--open is for recording scripts: add --voices')
  const story = linkStory(input.value.story)
  const content = flags.voices
    ? await voicesAsked(story, flags)
    : flags.language !== undefined
      ? await textsAsked(story, flags.language, flags)
      : ((await chartOf(story, flags)) ?? (await copyOf(story, flags)))
  if (!content.ok) return refuse(content.error)
  await writeOut(flags.output, content.value)
}

async function textsAsked(story: LinkedStory, language: string, { format, scene }: Flags): Promise<Result<Payload>> {
  const form = formCalled('texts', format)
  if (form === undefined) return fail(`texts are not written as ${format}; leave --language out for a copy`)
  const { doc } = story
  const rows = rowsToWorkAt(story, language, scene)
  const { write } = await portOf('texts', form)
  return write({ title: doc.title, language, own: doc.language, made: new Date() }, rows)
}

async function voicesAsked(story: LinkedStory, flags: Flags): Promise<Result<Payload>> {
  const form = formCalled('voices', flags.format)
  if (form === undefined) return fail(`no recording script is written as ${flags.format}`)
  const values = inOneGo(spokenValues(story, bound(flags)))
  if (values === 'too many')
    warn('what texts with forms come to could not be worked out; they stand as they are written')
  const { doc } = story
  const language = flags.language ?? doc.language
  const recorded = recordedIn(doc, language)
  const all = voiceRows(story, language, values).filter(
    ({ scene }) => flags.scene === undefined || scene === flags.scene,
  )
  const rows = flags.open ? stillToRecord(all, recorded) : all
  const write = await portOf('voices', form)
  return write({ title: doc.title, language, made: new Date(), part: flags.scene ?? '', recorded }, rows)
}

/** A state chart, with what it can't express told beside it; undefined where the form is of something else. */
async function chartOf(story: LinkedStory, { format }: Flags): Promise<Result<Payload> | undefined> {
  const form = formCalled('chart', format)
  if (form === undefined) return undefined
  const { text, left } = (await portOf('chart', form))(story)
  for (const one of left) warn(one)
  return ok(text)
}

async function copyOf(story: LinkedStory, flags: Flags): Promise<Result<Payload>> {
  const form = formCalled('copy', flags.format)
  if (form === undefined) return fail(`as ${flags.format} texts are written: say of which --language`)
  const wayTo = (ending: string) =>
    Promise.resolve(surveyStory(story, { routes: 'ends' }, bound(flags)).reached.endings[ending]?.route)
  const copy = await copyAsked(story, flags, new Date(), wayTo)
  if (!copy.ok) return copy
  const write = await portOf('copy', form)
  return ok(await write(copy.value))
}
