import { parseAddress } from '../../core/base/address'
import type { Named } from '../../core/story/rename/rename'
import type { StorySession } from '../../session/story-session'
import type { Things } from '../shared/things'
import { copyChosen, deleteChosen } from '../desk/beat-selection'
import { addBeat, addBeatAfter, addScene, joinNext, orderByFlow } from '../desk/structure'

/** Something that can be done by its name. */
export interface Command {
  readonly name: string
  readonly keys?: string
  readonly run: () => void
}

interface Hands {
  readonly session: StorySession
  readonly things: Things
  readonly goTo: (view: string) => void
  readonly open: (dialog: 'replace' | 'keys') => void
  readonly nextFinding: (step: 1 | -1) => void
}

/** All commands, in the order in which they are offered. */
export function commandsOf({ session, things, goTo, open, nextFinding }: Hands): Command[] {
  const here = (): { scene: string; id: string } | undefined => {
    const { scene, beat: id } = parseAddress(session.getState().beat ?? '') ?? {}
    return scene === undefined || id === undefined ? undefined : { scene, id }
  }
  const withBeat = (act: (beat: { scene: string; id: string }) => void) => () => {
    const beat = here()
    if (beat !== undefined) act(beat)
  }
  const scene = (): Named => ({ of: 'scene', id: session.getState().scene ?? '' })
  return [
    { name: 'Go to the Desk', keys: 'Alt+1', run: () => goTo('desk') },
    { name: 'Go to the Quests', keys: 'Alt+2', run: () => goTo('quests') },
    { name: 'Go to the Ledger', keys: 'Alt+3', run: () => goTo('ledger') },
    { name: 'Rehearse', keys: 'Alt+4', run: () => goTo('rehearse') },
    { name: 'Go to the Bearings', keys: 'Alt+5', run: () => goTo('bearings') },
    { name: 'History and versions', run: () => goTo('history') },
    { name: 'Back to where I was', keys: 'Alt+←', run: () => session.walkTrail(-1) },
    { name: 'Forward again', keys: 'Alt+→', run: () => session.walkTrail(1) },
    { name: 'Next finding', keys: 'F8', run: () => nextFinding(1) },
    { name: 'Finding before', keys: 'Shift+F8', run: () => nextFinding(-1) },
    { name: 'Find and replace', keys: 'Ctrl+Shift+H', run: () => open('replace') },
    { name: 'New beat after this one', keys: 'Ctrl+Shift+Enter', run: withBeat((beat) => addBeatAfter(session, beat)) },
    {
      name: 'New beat at the end of the scene',
      run: () => {
        const { story, scene: id } = session.getState()
        const target = story.scenes.find((one) => one.id === id)
        if (target !== undefined) addBeat(session, target.id, target.beats.length)
      },
    },
    { name: 'New scene', run: () => addScene(session) },
    { name: 'Put the beats of this scene in the order of the story', run: () => orderByFlow(session) },
    { name: 'Join this beat with the next one', run: withBeat((beat) => joinNext(session, beat)) },
    {
      name: 'Copy this beat, or the chosen ones',
      keys: 'Ctrl+C',
      run: () => void navigator.clipboard.writeText(copyChosen(session) ?? ''),
    },
    { name: 'Delete the chosen beats', run: () => deleteChosen(session, things) },
    { name: 'Rename this beat', run: withBeat((beat) => things.rename({ of: 'beat', ...beat })) },
    { name: 'Delete this beat', run: withBeat((beat) => things.remove({ of: 'beat', ...beat })) },
    { name: 'Rename this scene in expressions', run: () => things.rename(scene()) },
    { name: 'Delete this scene', run: () => things.remove(scene()) },
    { name: 'Undo', keys: 'Ctrl+Z', run: () => void session.undo() },
    { name: 'Redo', keys: 'Ctrl+Shift+Z', run: () => void session.redo() },
    { name: 'List of keys', keys: '?', run: () => open('keys') },
  ]
}
