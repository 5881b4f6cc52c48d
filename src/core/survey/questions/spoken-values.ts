import type { Slices } from '../../base/slices'
import type { LinkedBeat, LinkedEntry, LinkedLine, LinkedStory } from '../../story/linked'
import { eachLine } from '../../story/linked-parts'
import { argumentsIn, type TextArgument } from '../../story/text'
import { allotSlots } from '../analysis/slots'
import { EVERY_BEAT } from '../interpreter/machine'
import { slotValue } from '../states/slot-value'
import type { Search } from '../explicit/search'
import { isGivenNumber } from '../summaries/given-classes'
import { turnsTold, type FollowedTurns } from '../summaries/turn-plan'
import { unlessTooMuch } from '../symbolic/diagrams/node-table'
import { keptInSets, NODES_ASIDE, searchKeeping } from './search-keeping'
import { addressesIn, hearNow, type Heard, type HeardLines } from './heard-lines'
import { spokenInSets } from './set-spoken-values'

/** What entries and quests hold while a line is said, one for each combination that occurs on some route. */
export type SpokenValues = readonly Readonly<Record<string, boolean | number | string>>[]

/** Playing more transitions than this again takes too long while somebody waits. */
const PLAYED_MAX = 1_000_000
const STRIDE = 256
/** A number that the game gives is shown in at most so many forms. */
const FORMS_MAX = 1_000

/** By what a quest's stage is told in `SpokenValues`, so that it is not taken for an entry. */
export function stageOf(quest: string): string {
  return `quest ${quest}`
}

/**
 * For each line whose text depends on the story, what it depends on holds whenever it is said, by the line's address. Lines
 * that no route comes to are left out, those of beats whose lines change just what is shown, and those that show a number
 * which the game gives in too many ways. Found by playing every
 * transition again in a search that keeps what texts show, or all at once in sets where there are more than `single`.
 */
export function* spokenValues(
  story: LinkedStory,
  stop: () => boolean = () => false,
  single = PLAYED_MAX,
): Slices<Map<string, SpokenValues> | 'too many'> {
  const slots = allotSlots(story)
  const slotOf = ({ of, id }: TextArgument) =>
    of === 'entry' ? slots.ofEntry[story.entryOf.get(id)!]! : slots.ofQuest[story.questOf.get(id)!]!
  const heard = new Map<string, Heard>()
  for (const beat of story.inOrder)
    eachLine(beat, (line) => {
      const shows = shownIn(line)
      if (shows.length === 0 || shows.some((one) => isChangedIn(beat, one) || isInManyForms(story, one))) return
      heard.set(line.address, { shows, slots: shows.map(slotOf), rows: new Map() })
    })
  const turns = turnsTold(story)
  const given = [...heard.values()].flatMap(({ shows }) =>
    shows.flatMap((one) => entryOf(story, one) ?? []).filter(isGivenNumber),
  )
  const search = searchKeeping(
    story,
    [...new Set([...heard.values()].flatMap((line) => line.slots))],
    turns,
    new Set(given.map(({ index }) => index)),
  )
  while (!search.done && search.transitions <= single) {
    if (stop()) return 'too many'
    search.advance(STRIDE)
    yield
  }
  if (search.done && search.transitions <= single) {
    if (!(yield* hearStates(search, heard, stop))) return 'too many'
  } else if (!(yield* hearSets(search, turns, heard, stop))) return 'too many'
  const named = (one: TextArgument, value: number) => slotValue(story, search.slots.all[slotOf(one)]!, value)
  return new Map(
    [...heard]
      .filter(([, { rows }]) => rows.size > 0)
      .map(([address, { shows, rows }]) => [
        address,
        [...rows.values()].map((row) =>
          Object.fromEntries(
            shows.map((one, at) => [one.of === 'entry' ? one.id : stageOf(one.id), named(one, row[at]!)]),
          ),
        ),
      ]),
  )
}

/** False where `stop` said so before all were heard. */
function* hearStates(search: Search, heard: HeardLines, stop: () => boolean): Slices<boolean> {
  const { events, givens, machine, values } = search
  const addressOf = addressesIn(events, heard)
  const hearAll = (play: () => void) =>
    events.recording((_, shown) => {
      const hear = () => {
        for (const event of shown) {
          const line = heard.get(addressOf(event))
          if (line === undefined) continue
          // what the game gives is chosen where it is first shown, as where it is first read
          for (const slot of line.slots) givens.touch(slot)
          hearNow(line, values)
        }
        // a beat that is come to again says its lines again
        events.forgetShown()
      }
      machine.watching(EVERY_BEAT, hear, play)
    })
  hearAll(() => search.eachBeginning(() => events.forgetShown(), nothing))
  for (let from = 0; from < search.expanded; from += STRIDE) {
    if (stop()) return false
    hearAll(() => {
      for (let state = from; state < Math.min(from + STRIDE, search.expanded); state += 1)
        search.replayFrom(state, () => events.forgetShown(), nothing)
    })
    yield
  }
  return true
}

/** The same in sets; false where they are too much as well. */
function* hearSets(search: Search, turns: FollowedTurns, heard: HeardLines, stop: () => boolean): Slices<boolean> {
  const sets = yield* keptInSets(search, turns, stop, NODES_ASIDE)
  return sets !== undefined && (yield* unlessTooMuch(spokenInSets(sets, heard, stop))) === true
}

/** Whether a line of the beat changes it, so that it may be other while another one is said. */
function isChangedIn(beat: LinkedBeat, { of, id }: TextArgument): boolean {
  let isChanged = false
  eachLine(beat, ({ effects }) => {
    for (const { effect } of effects)
      isChanged ||=
        effect.kind === 'stage' ? of === 'quest' && effect.quest === id : of === 'entry' && effect.entry === id
  })
  return isChanged
}

function entryOf({ entries, entryOf }: LinkedStory, { of, id }: TextArgument): LinkedEntry | undefined {
  return of === 'entry' ? entries[entryOf.get(id) ?? -1] : undefined
}

function isInManyForms(story: LinkedStory, shown: TextArgument): boolean {
  const entry = entryOf(story, shown)
  return entry !== undefined && isGivenNumber(entry) && entry.max - entry.min >= FORMS_MAX
}

function nothing(): void {
  // what is played is heard elsewhere
}

/** What of the story a line shows; people are called by what they are. */
function shownIn({ text }: LinkedLine): TextArgument[] {
  return text.parsed === undefined ? [] : argumentsIn(text.parsed).filter(({ of }) => of !== 'person')
}
