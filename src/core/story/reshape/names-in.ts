import { Rewriter } from '../rename/rewrite'
import { mapTextNames } from '../rename/text-names'
import { textArgument, type TextArgument } from '../text'
import type { Beat, Person } from '../types'

/** What a beat names outside of itself. */
export interface NamesIn {
  readonly entries: ReadonlySet<string>
  readonly quests: ReadonlySet<string>
  readonly people: ReadonlySet<string>
  readonly endings: ReadonlySet<string>
  readonly cues: ReadonlySet<string>
}

const known = new WeakMap<Beat, NamesIn>()

export function namesIn(beat: Beat): NamesIn {
  let names = known.get(beat)
  if (names === undefined) {
    names = collect(beat)
    known.set(beat, names)
  }
  return names
}

function collect(beat: Beat): NamesIn {
  const entries = new Set<string>()
  const quests = new Set<string>()
  const people = new Set<string>()
  const endings = new Set<string>()
  const cues = new Set<string>()
  const noting = (set: Set<string>) => (id: string) => {
    if (id !== '') set.add(id)
    return id
  }
  new Rewriter({
    person: noting(people),
    ending: noting(endings),
    cue: noting(cues),
    entry: noting(entries),
    expr: (part) => {
      if (part.kind === 'entry') entries.add(part.id)
      if (part.kind === 'quest') quests.add(part.id)
      return part
    },
    effect: (effect) => {
      if (effect.kind === 'stage') quests.add(effect.quest)
      else entries.add(effect.entry)
      return effect
    },
    text: (source) => {
      for (const { of, id } of namesInText(source))
        (of === 'quest' ? quests : of === 'person' ? people : entries).add(id)
      return source
    },
  }).beat(beat)
  return { entries, quests, people, endings, cues }
}

/** What is asked for what people are called. */
export function namesOfPeople(cast: readonly Person[]): {
  readonly entries: Set<string>
  readonly quests: Set<string>
} {
  const entries = new Set<string>()
  const quests = new Set<string>()
  const rewriter = new Rewriter({
    expr: (part) => {
      if (part.kind === 'entry') entries.add(part.id)
      if (part.kind === 'quest') quests.add(part.id)
      return part
    },
  })
  for (const person of cast) rewriter.person(person)
  return { entries, quests }
}

/** What a text shows or chooses by. */
export function namesInText(source: string): TextArgument[] {
  const found: TextArgument[] = []
  mapTextNames(
    source,
    (name) => {
      found.push(textArgument(name))
      return name
    },
    (_, key) => key,
  )
  return found
}
