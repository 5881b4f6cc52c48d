import type { KeyboardEvent } from 'react'
import { parseAddress } from '../../../core/base/address'
import type { StorySession } from '../../../session/story-session'
import { mayChoose } from '../../../core/story/reshape/beat-edits'
import { addBeatAfter, addChoice } from '../outline/structure'
import { beatAt } from '../../../core/story/beat-at'

/** Texts of the script in their order: lines, also of variants and turns, questions, choices. */
const SCRIPT = '.line .draft, .choice-text .draft, .ask .draft'

/** Keys that work anywhere in a beat; a field that has taken a key for itself has prevented its default. */
export function scriptKeys(session: StorySession, event: KeyboardEvent<HTMLElement>): void {
  if (event.isDefaultPrevented() || event.nativeEvent.isComposing || !(event.target instanceof HTMLElement)) return
  const { target, key, altKey, shiftKey } = event
  const hasMod = event.ctrlKey || event.metaKey
  if (altKey && !hasMod && event.code === 'Period') {
    event.preventDefault()
    openMore(target)
  } else if (key === 'Enter' && hasMod && !altKey) {
    const address = parseAddress(target.closest('section.beat')?.id ?? '')
    if (address?.beat === undefined) return
    event.preventDefault()
    const ref = { scene: address.scene, id: address.beat }
    // what is being written in is left first, so that it is kept
    target.blur()
    const beat = beatAt(session.getState().story, `${ref.scene}.${ref.id}`)
    if (shiftKey) addBeatAfter(session, ref)
    else if (beat !== undefined && mayChoose(beat)) addChoice(session, ref)
  } else if ((key === 'ArrowUp' || key === 'ArrowDown') && !altKey && !hasMod && !shiftKey) {
    if (target instanceof HTMLTextAreaElement && target.matches(SCRIPT)) goOn(target, key === 'ArrowUp' ? -1 : 1)
  }
}

/** Opens what can be added to the row that one is in. */
function openMore(target: HTMLElement): void {
  const row = target.closest('.row, .beat-tools')
  row?.querySelector<HTMLElement>('[data-more]')?.click()
}

/** To the text before or after, where the cursor can go no further in its own. */
function goOn(from: HTMLTextAreaElement, by: 1 | -1): void {
  const { selectionStart, selectionEnd } = from
  if (selectionStart !== selectionEnd) return
  setTimeout(() => {
    // the browser has moved it within its text
    if (document.activeElement !== from || from.selectionStart !== selectionStart) return
    const texts = [...(from.closest('[data-manuscript]')?.querySelectorAll<HTMLTextAreaElement>(SCRIPT) ?? [])]
    const to = texts[texts.indexOf(from) + by]
    if (to === undefined) return
    to.focus()
    const caret = by === -1 ? to.value.length : Math.min(selectionStart, to.value.length)
    to.setSelectionRange(caret, caret)
    to.scrollIntoView({ block: 'nearest' })
  })
}
