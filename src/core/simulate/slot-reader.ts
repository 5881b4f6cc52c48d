import type { PlayState } from '../play/state'
import type { WordDomain } from '../survey/summaries/word-domains'
import type { Search } from '../survey/explicit/search'
import { slotNumber, slotTimes } from '../survey/states/slot-value'

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
    return (index) => {
      const slot = slots.all[index]!
      switch (slot.kind) {
        case 'entry': {
          const value = state.entries[slot.entry]!
          return slot.words === undefined ? slotNumber(story, slot, value) : wordIn(slot.words, String(value))
        }
        case 'quest':
          return state.stages[slot.quest]!
        case 'visits':
          return Math.min(slot.max, state.visits[slot.beat]!)
        case 'taken':
          return state.taken[slot.choice]!
        case 'turns':
          return slotTimes(slot, state.turns[slot.group]!)
        case 'place':
          return state.place === -1 ? 0 : slots.placeOf[state.place]!
        case 'spare':
          return slot.initial
      }
    }
  }
}
