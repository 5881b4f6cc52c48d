import { parseAddress } from '../../core/base/address'
import type { Named } from '../../core/story/rename/rename'
import type { StorySession } from '../../session/story-session'
import type { Things } from '../shared/naming/things'
import { copyChosen, deleteChosen } from '../desk/outline/beat-selection'
import { focusWhenDrawn } from '../../ui/named-fields'
import { NEW_PROMISE } from '../bearings/promise-form'
import { VIEWS, type ViewPath } from './views'
import { addBeat, addBeatAfter, addScene, joinNext, orderByFlow } from '../desk/outline/structure'

/** Something that can be done by its name, and by a key where the key table has one for its id. */
export interface Command {
  readonly id: string
  readonly name: string
  /** A key that does the same, and that somebody else listens for. */
  readonly hint?: string
  /** What was typed becomes an edit first. */
  readonly leavesField?: true
  /** Its key is a sign while something is written. */
  readonly notWhileWriting?: true
  readonly run: () => void
}

export type Overlay = 'keys' | 'palette' | 'replace'

interface Hands {
  readonly session: StorySession
  readonly things: Things
  /** `more`: what stands in the address behind the view. */
  readonly goTo: (view: ViewPath, more?: string) => void
  readonly travel: (kind: 'undo' | 'redo') => void
  readonly open: (overlay: Overlay) => void
  readonly nextFinding: (step: 1 | -1) => void
}

/** All commands, in the order in which they are offered. */
export function commandsOf({ session, things, goTo, travel, open, nextFinding }: Hands): Command[] {
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
    ...VIEWS.map(({ path, goTo: name }): Command => ({
      id: `view-${path}`,
      name,
      leavesField: true,
      run: () => goTo(path),
    })),
    {
      id: 'on-atlas',
      name: 'Show this beat on the Atlas',
      leavesField: true,
      run: () => goTo('atlas', `?near=1#${session.getState().beat ?? ''}`),
    },
    { id: 'history', name: 'History and versions', leavesField: true, run: () => goTo('history') },
    {
      id: 'export',
      name: 'Export: a page to play, a bundle, the story file',
      leavesField: true,
      run: () => goTo('export'),
    },
    {
      id: 'share',
      name: 'Share: who may read, comment, write',
      leavesField: true,
      run: () => goTo('share'),
    },
    { id: 'comments', name: 'Comments', leavesField: true, run: () => goTo('comments') },
    { id: 'back', name: 'Back to where I was', leavesField: true, run: () => session.walkTrail(-1) },
    { id: 'forward', name: 'Forward again', leavesField: true, run: () => session.walkTrail(1) },
    { id: 'next-finding', name: 'Next finding', leavesField: true, run: () => nextFinding(1) },
    { id: 'finding-before', name: 'Finding before', leavesField: true, run: () => nextFinding(-1) },
    {
      id: 'promise',
      name: 'Make a promise',
      leavesField: true,
      run: () => {
        goTo('bearings')
        focusWhenDrawn(NEW_PROMISE)
      },
    },
    { id: 'replace', name: 'Find and replace', leavesField: true, run: () => open('replace') },
    {
      id: 'beat-after',
      name: 'New beat after this one',
      hint: 'Ctrl+Shift+Enter',
      run: withBeat((beat) => addBeatAfter(session, beat)),
    },
    {
      id: 'beat-last',
      name: 'New beat at the end of the scene',
      run: () => {
        const { story, scene: id } = session.getState()
        const target = story.scenes.find((one) => one.id === id)
        if (target !== undefined) addBeat(session, target.id, target.beats.length)
      },
    },
    { id: 'new-scene', name: 'New scene', run: () => addScene(session) },
    {
      id: 'order-by-flow',
      name: 'Put the beats of this scene in the order of the story',
      run: () => orderByFlow(session),
    },
    { id: 'join-next', name: 'Join this beat with the next one', run: withBeat((beat) => joinNext(session, beat)) },
    {
      id: 'copy',
      name: 'Copy this beat, or the chosen ones',
      hint: 'Ctrl+C',
      run: () => void navigator.clipboard.writeText(copyChosen(session) ?? ''),
    },
    { id: 'delete-chosen', name: 'Delete the chosen beats', run: () => deleteChosen(session, things) },
    {
      id: 'rename-beat',
      name: 'Rename this beat',
      run: withBeat((beat) => things.rename({ of: 'beat', ...beat })),
    },
    {
      id: 'delete-beat',
      name: 'Delete this beat',
      run: withBeat((beat) => things.remove({ of: 'beat', ...beat })),
    },
    { id: 'rename-scene', name: 'Rename this scene in expressions', run: () => things.rename(scene()) },
    { id: 'delete-scene', name: 'Delete this scene', run: () => things.remove(scene()) },
    { id: 'undo', name: 'Undo', leavesField: true, run: () => travel('undo') },
    { id: 'redo', name: 'Redo', leavesField: true, run: () => travel('redo') },
    { id: 'keys', name: 'List of keys', leavesField: true, notWhileWriting: true, run: () => open('keys') },
    { id: 'palette', name: 'Do or go to anything', leavesField: true, run: () => open('palette') },
  ]
}
