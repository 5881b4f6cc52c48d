import type { PlayState } from '../play/state'
import type { Slot } from '../survey/analysis/slots'
import type { WordDomain } from '../survey/summaries/word-domains'
import type { Search } from '../survey/explicit/search'

/** What each slot of a search holds for a playthrough. */
export type SlotReader = (state: PlayState) => (slot: number) => number

/** Reads playthroughs as the states of a search tell them apart. */
export function slotReader({ story, slots }: Search): SlotReader {
  return (state) => {
    /** By group of texts: words that nothing asks for, each under the number of one that stands for any. */
    const others = new Map<WordDomain, string[]>()
    const wordIn = (domain: WordDomain, word: string): number => {
      const known = domain.values.indexOf(word)
      if (known !== -1 && known < domain.others) return known
      let met = others.get(domain)
      if (met === undefined) others.set(domain, (met = []))
      if (!met.includes(word)) met.push(word)
      // where texts are never held against each other one stands for all
      return Math.min(domain.values.length - 1, domain.others + met.indexOf(word))
    }
    const entryIn = (slot: Slot & { kind: 'entry' }): number => {
      const value = state.entries[slot.entry]!
      if (typeof value === 'boolean') return value ? 1 : 0
      if (typeof value === 'number') return slot.wide === undefined ? value : slot.wide.classOf(value)
      return slot.words === undefined
        ? Math.max(0, story.entries[slot.entry]!.positions.indexOf(value))
        : wordIn(slot.words, value)
    }
    return (index) => {
      const slot = slots.all[index]!
      switch (slot.kind) {
        case 'entry':
          return entryIn(slot)
        case 'quest':
          return state.stages[slot.quest]!
        case 'visits':
          return Math.min(slot.max, state.visits[slot.beat]!)
        case 'taken':
          return state.taken[slot.choice]!
        case 'turns': {
          const times = state.turns[slot.group]!
          return times <= slot.max ? times : slot.from + ((times - slot.from) % (slot.max + 1 - slot.from))
        }
        case 'place':
          return state.place === -1 ? 0 : slots.placeOf[state.place]!
      }
    }
  }
}
