import type { Slices } from '../../base/slices'
import type { LinkedBeat, LinkedLine, LinkedStory } from '../../story/linked'
import { eachLine } from '../../story/linked-parts'
import { argumentsIn, type TextArgument } from '../../story/text'
import { allotSlots } from '../analysis/slots'
import { slotValue } from '../states/slot-value'
import { searchKeeping } from './search-keeping'
import { turnsTold } from '../summaries/turn-plan'

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
 * transition again in a search that keeps what texts show.
 */
export function* spokenValues(
  story: LinkedStory,
  stop: () => boolean = () => false,
): Slices<Map<string, SpokenValues> | 'too many'> {
  const wanted = new Map<LinkedBeat, Map<string, readonly TextArgument[]>>()
  for (const beat of story.beats)
    eachLine(beat, (line) => {
      const shows = shownIn(line)
      if (shows.length === 0 || shows.some((one) => isChangedIn(beat, one))) return
      const lines = wanted.get(beat) ?? new Map<string, readonly TextArgument[]>()
      wanted.set(beat, lines.set(line.address, shows))
    })
  const slots = allotSlots(story)
  const slotOf = ({ of, id }: TextArgument) =>
    of === 'entry' ? slots.ofEntry[story.entryOf.get(id)!]! : slots.ofQuest[story.questOf.get(id)!]!
  const all = [...wanted.values()].flatMap((lines) => [...lines.values()].flat())
  const search = searchKeeping(story, [...new Set(all.map(slotOf))], turnsTold(story))
  while (!search.done) {
    if (stop() || search.transitions > PLAYED_MAX) return 'too many'
    search.advance(STRIDE)
    yield
  }
  if (search.transitions > PLAYED_MAX) return 'too many'
  /** Slots that a line shows, and the values that they held, as one number a slot. */
  const heard = new Map<
    string,
    { shows: readonly TextArgument[]; slots: readonly number[]; rows: Map<string, number[]> }
  >()
  for (const lines of wanted.values())
    for (const [address, shows] of lines) heard.set(address, { shows, slots: shows.map(slotOf), rows: new Map() })
  /** By the number of an event: the address of a line that is wanted; "" of anything else. */
  const addresses = new Map<number, string>()
  const addressOf = (number: number) => {
    let address = addresses.get(number)
    if (address === undefined) {
      const { kind, key } = search.events.at(number)
      address = kind === 'line' && heard.has(key[0]!) ? key[0]! : ''
      addresses.set(number, address)
    }
    return address
  }
  const play = (shows: (again: () => void) => readonly number[], again: () => void) => {
    const said = shows(again)
      .map(addressOf)
      .filter((address) => address !== '')
    // the few that say something wanted are played once more for each beat, to see what is held then
    for (const beat of new Set(said.map((address) => address.slice(0, address.indexOf('#'))))) {
      const here = said.filter((address) => address.startsWith(`${beat}#`)).map((address) => heard.get(address)!)
      const hear = () => {
        for (const { slots: own, rows } of here) {
          const row = own.map((slot) => search.values[slot]!)
          const key = row.join(' ')
          if (!rows.has(key)) rows.set(key, row)
        }
      }
      shows(() => search.machine.watching(story.beatOf.get(beat)!, hear, again))
    }
  }
  if (story.start !== -1)
    search.events.recording((shows) => {
      play(shows, () => search.eachBeginning(nothing, nothing))
    })
  for (let from = 0; from < search.expanded; from += STRIDE) {
    if (stop()) return 'too many'
    search.events.recording((shows) => {
      for (let state = from; state < Math.min(from + STRIDE, search.expanded); state += 1)
        search.decisionsIn(state).forEach((_, pick) => play(shows, () => search.replayPick(state, pick)))
    })
    yield
  }
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
