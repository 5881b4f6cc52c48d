import type { Rehearsal, StorySession } from './story-session'

/** The rehearsal of a story is there again after a reload, in the same tab of the browser. */
export function keepRehearsal(session: StorySession): void {
  const key = `paper-compass.rehearsal.${session.id}`
  restore(session, sessionStorage.getItem(key))
  let known = session.getState().rehearsal
  session.subscribe(() => {
    const { rehearsal } = session.getState()
    if (rehearsal === known) return
    known = rehearsal
    try {
      sessionStorage.setItem(key, JSON.stringify({ ...rehearsal, tried: undefined }))
    } catch {
      // no room: then it is not kept
    }
  })
}

/** What does not play any more is said where it is rehearsed; what is no rehearsal is left. */
function restore(session: StorySession, kept: string | null): void {
  if (kept === null) return
  try {
    const { decisions, from } = JSON.parse(kept) as Partial<Rehearsal>
    if (Array.isArray(decisions)) session.rehearse(decisions, from)
  } catch {
    // written by something else
  }
}
