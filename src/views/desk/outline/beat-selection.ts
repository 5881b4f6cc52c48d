import { newLineId } from '../../../session/new-line'
import { parseAddress } from '../../../core/base/address'
import { useEffect, type RefObject } from 'react'
import { clipBeats, pasteClip, readClip } from '../../../core/story/reshape/clip'
import { moveBeat } from '../../../core/story/reshape/move-beat'
import type { StorySession } from '../../../session/story-session'
import { useThings, type Things } from '../../shared/naming/things'
import { useSession } from '../../shared/session/use-session'
import type { Row } from './outline-rows'

/** What is done with beats as a whole: the chosen ones, or the one that one is at. */

function chosenOrHere(session: StorySession): readonly string[] {
  const { chosen, beat } = session.getState()
  return chosen.length > 0 ? chosen : beat === undefined ? [] : [beat]
}

/** The beats as text for the clipboard. */
export function copyChosen(session: StorySession): string | undefined {
  const addresses = chosenOrHere(session)
  return addresses.length === 0 ? undefined : JSON.stringify(clipBeats(session.getState().story, addresses), null, 1)
}

/** Puts copied beats behind the one that one is at; true when the text was beats. */
export function pasteText(session: StorySession, text: string): boolean {
  const clip = readClip(text)
  if (clip === undefined) return false
  if (!clip.ok) {
    session.tell(`This could not be pasted: ${clip.error}.`)
    return true
  }
  const { story, scene, beat } = session.getState()
  const target = story.scenes.find(({ id }) => id === scene)
  if (target === undefined) return true
  const at = target.beats.findIndex(({ id }) => `${scene}.${id}` === beat) + 1
  const pasted = pasteClip(story, clip.value, target.id, at, newLineId)
  if (!pasted.ok) session.tell(`This could not be pasted: ${pasted.error}.`)
  else if (session.edit(pasted.value.change) === undefined) {
    session.choose(pasted.value.addresses)
    session.goTo(pasted.value.addresses[0])
  }
  return true
}

/** Deletes them, after saying what that would do. */
export function deleteChosen(session: StorySession, things: Things): void {
  const addresses = chosenOrHere(session)
  session.choose([])
  things.removeBeats(addresses)
}

/** Moves a scene or a beat one place up or down. */
export function moveRow(session: StorySession, row: Row, by: 1 | -1): void {
  const { scenes } = session.getState().story
  const to = row.at + by
  const length = row.kind === 'scene' ? scenes.length : (scenes.find(({ id }) => id === row.scene)?.beats.length ?? 0)
  if (to < 0 || to >= length) return
  session.edit({
    op: 'move',
    in: row.kind === 'scene' ? { list: 'scenes' } : { list: 'beats', scene: row.scene },
    id: row.id,
    at: row.at,
    to,
  })
}

/** Puts a beat at a place in a scene, its own or another. */
export function putBeat(session: StorySession, address: string, scene: string, at: number): void {
  const from = parseAddress(address)
  if (from === undefined) return
  const moved = moveBeat(session.getState().story, { scene: from.scene, id: from.beat }, { scene, at })
  if (!moved.ok) return session.tell(`This could not be moved: ${moved.error}.`)
  if (session.edit(moved.value.change) === undefined) session.goTo(moved.value.address)
}

/** Copies, cuts and pastes beats with the usual keys: in the outline, and wherever no text is being written. */
export function useClipboard(outline: RefObject<HTMLElement | null>): void {
  const session = useSession()
  const things = useThings()
  useEffect(() => {
    const writing = (event: Event) => {
      const { target } = event
      return (
        target instanceof HTMLElement &&
        target.matches('input, textarea, select') &&
        !(outline.current?.contains(target) ?? false)
      )
    }
    const copy = (event: ClipboardEvent) => {
      // a marked passage is copied as text
      if (writing(event) || (window.getSelection()?.toString() ?? '') !== '') return
      const text = copyChosen(session)
      if (text === undefined) return
      event.preventDefault()
      event.clipboardData?.setData('text/plain', text)
      if (event.type === 'cut') deleteChosen(session, things)
    }
    const paste = (event: ClipboardEvent) => {
      const text = event.clipboardData?.getData('text/plain') ?? ''
      // beats are beats also where the cursor stands in a line
      if (pasteText(session, text)) event.preventDefault()
    }
    document.addEventListener('copy', copy)
    document.addEventListener('cut', copy)
    document.addEventListener('paste', paste)
    return () => {
      document.removeEventListener('copy', copy)
      document.removeEventListener('cut', copy)
      document.removeEventListener('paste', paste)
    }
  }, [session, things, outline])
}
