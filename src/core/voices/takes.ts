import type { Change } from '../story/changes/types'
import type { Manner, Story } from '../story/types'

/** Who says what nobody in the cast says. */
export const NARRATOR = 'narrator'

/** A text to be recorded: one row for each wording that can really be said. */
export interface VoiceRow {
  /** By which the file is known, without its ending. */
  readonly file: string
  readonly key: string
  /** Id of the person; NARRATOR for nobody. */
  readonly person: string
  readonly who: string
  readonly scene: string
  /** Where, and when it is said. */
  readonly situation: string
  readonly before: string
  readonly text: string
  readonly manner: Manner
  readonly cue: string
  readonly words: number
}

export interface VoicesOf {
  readonly title: string
  readonly language: string
  readonly made: Date
  /** What of it, such as a person's name; "" for all. */
  readonly part: string
  /** What was recorded, by file, with its wording. */
  readonly recorded: ReadonlyMap<string, string>
}

/** How many texts and words each person has, those with most first. */
export function wordsByPerson(
  rows: readonly VoiceRow[],
): { person: string; who: string; texts: number; words: number }[] {
  const found = new Map<string, { person: string; who: string; texts: number; words: number }>()
  for (const { person, who, words } of rows) {
    const one = found.get(person) ?? { person, who, texts: 0, words: 0 }
    one.texts += 1
    one.words += words
    found.set(person, one)
  }
  return [...found.values()].sort((a, b) => b.words - a.words)
}

/** What became of a text since it was recorded. */
export type TakeState = 'new' | 'changed' | 'same'

/** Each row as it was in an earlier script, by its file; `gone`: files of which there is no text any more. */
export function sinceRecorded(
  rows: readonly VoiceRow[],
  earlier: ReadonlyMap<string, string>,
): { readonly states: ReadonlyMap<string, TakeState>; readonly gone: readonly string[] } {
  const states = new Map(
    rows.map(({ file, text }): [string, TakeState] => {
      const was = earlier.get(file)
      return [file, was === undefined ? 'new' : was === text ? 'same' : 'changed']
    }),
  )
  return { states, gone: [...earlier.keys()].filter((file) => !states.has(file)) }
}

/** Sound files of a folder against what is to be recorded. `outdated`: it is there, and its text was changed since. */
export function matchRecordings(
  rows: readonly VoiceRow[],
  files: readonly string[],
  earlier: ReadonlyMap<string, string> | undefined,
): { readonly present: string[]; readonly missing: string[]; readonly outdated: string[]; readonly unknown: string[] } {
  const found = new Map<string, string>()
  for (const path of files) {
    const name = path.replace(/^.*[/\\]/, '')
    const base = /^(.+)\.(wav|mp3|ogg|oga|flac|opus|m4a|aac|aif|aiff)$/i.exec(name)?.[1]
    if (base !== undefined) found.set(base.toLowerCase(), name)
  }
  const present: string[] = []
  const missing: string[] = []
  const outdated: string[] = []
  for (const { file, text } of rows) {
    const name = file.toLowerCase()
    if (!found.has(name)) missing.push(file)
    else if (earlier?.has(file) === true && earlier.get(file) !== text) outdated.push(file)
    else present.push(file)
    found.delete(name)
  }
  return { present, missing, outdated, unknown: [...found.values()] }
}

/** The wordings of a language that were recorded, by file. */
export function recordedIn(story: Story, language: string): ReadonlyMap<string, string> {
  const prefix = `${language}/`
  return new Map(
    (story.recordings ?? []).flatMap(({ id, text }) =>
      id.startsWith(prefix) ? [[id.slice(prefix.length), text] as const] : [],
    ),
  )
}

/** The edit that marks wordings as recorded, and takes marks away; undefined where nothing is other than it was. */
export function markChange(
  story: Story,
  language: string,
  recorded: ReadonlyMap<string, string>,
  gone: readonly string[] = [],
): Change | undefined {
  const path = { list: 'recordings' } as const
  const left = new Map([...recorded].map(([file, text]) => [`${language}/${file}`, text]))
  const drop = new Set(gone.map((file) => `${language}/${file}`))
  const changes: Change[] = []
  let at = 0
  for (const item of story.recordings ?? []) {
    const { id } = item
    if (drop.has(id)) {
      changes.push({ op: 'remove', in: path, id, at })
      continue
    }
    const text = left.get(id)
    left.delete(id)
    if (text !== undefined && text !== item.text)
      changes.push({ op: 'replace', in: path, id, at, item: { ...item, text } })
    at += 1
  }
  for (const [id, text] of left) changes.push({ op: 'insert', in: path, at: at++, item: { id, text } })
  return changes.length === 0 ? undefined : { op: 'batch', changes }
}

/** What is not recorded as it reads now. */
export function stillToRecord(rows: readonly VoiceRow[], recorded: ReadonlyMap<string, string>): VoiceRow[] {
  return rows.filter(({ file, text }) => recorded.get(file) !== text)
}
