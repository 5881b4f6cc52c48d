import type { Slices } from '../../base/slices'
import type { LinkedBeat, LinkedLine, LinkedStory } from '../../story/linked'
import { ownerOf } from '../../base/address'
import { eachLine } from '../../story/linked-parts'
import { argumentsIn, type TextArgument } from '../../story/text'
import { allotSlots } from '../analysis/slots'
import { slotValue } from '../states/slot-value'
import type { Search } from '../explicit/search'
import { turnsTold, type FollowedTurns } from '../summaries/turn-plan'
import { unlessTooMuch } from '../symbolic/node-table'
import { hasGiven, keptInSets, NODES_ASIDE, searchKeeping } from './search-keeping'
import { addressesIn, hearNow, type Heard, type HeardLines } from './heard-lines'
import { spokenInSets } from './set-spoken-values'

/** What entries and quests hold while a line is said, one for each combination that occurs on some route. */
export type SpokenValues = readonly Readonly<Record<string, boolean | number | string>>[]

/** Playing more transitions than this again takes too long while somebody waits. */
const PLAYED_MAX = 1_000_000
const STRIDE = 256

/** By what a quest's stage is told in `SpokenValues`, so that it is not taken for an entry. */
export function stageOf(quest: string): string {
  return `quest ${quest}`
}

/**
 * For each line whose text depends on the story, what it depends on holds whenever it is said, by the line's address. Lines
 * that no route comes to are left out, and those of beats whose lines change just what is shown. Found by playing every
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
  for (const beat of story.beats)
    eachLine(beat, (line) => {
      const shows = shownIn(line)
      if (shows.length === 0 || shows.some((one) => isChangedIn(beat, one))) return
      heard.set(line.address, { shows, slots: shows.map(slotOf), rows: new Map() })
    })
  const turns = turnsTold(story)
  const search = searchKeeping(story, [...new Set([...heard.values()].flatMap((line) => line.slots))], turns)
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
  const { story } = search
  const addressOf = addressesIn(search.events, heard)
  const play = (shows: (again: () => void) => readonly number[], again: () => void) => {
    const said = shows(again)
      .map(addressOf)
      .filter((address) => address !== '')
    // the few that say something wanted are played once more for each beat, to see what is held then
    for (const beat of new Set(said.map(ownerOf))) {
      const here = said.filter((address) => ownerOf(address) === beat).map((address) => heard.get(address)!)
      const hear = () => {
        for (const line of here) hearNow(line, search.values)
      }
      shows(() => search.machine.watching(story.beatOf.get(beat)!, hear, again))
    }
  }
  if (story.start !== -1)
    search.events.recording((shows) => {
      play(shows, () => search.eachBeginning(nothing, nothing))
    })
  for (let from = 0; from < search.expanded; from += STRIDE) {
    if (stop()) return false
    search.events.recording((shows) => {
      for (let state = from; state < Math.min(from + STRIDE, search.expanded); state += 1)
        search.decisionsIn(state).forEach((_, pick) => play(shows, () => search.replayPick(state, pick)))
    })
    yield
  }
  return true
}

/** The same in sets; false where they are too much as well. */
function* hearSets(search: Search, turns: FollowedTurns, heard: HeardLines, stop: () => boolean): Slices<boolean> {
  if (hasGiven(search.story)) return false
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

function nothing(): void {
  // what is played is heard elsewhere
}

/** What of the story a line shows; people are called by what they are. */
function shownIn({ text }: LinkedLine): TextArgument[] {
  return text.parsed === undefined ? [] : argumentsIn(text.parsed).filter(({ of }) => of !== 'person')
}
