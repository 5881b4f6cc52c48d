import { COLUMN_KEYS } from '../../ui/columns'
import { VIEWS } from './views'

/** The keys of commands that work in every view, by the command's id; `$mod` is Ctrl, on a Mac the command key. */
export const KEY_TABLE: Readonly<Record<string, string>> = {
  palette: '$mod+k',
  replace: '$mod+Shift+h',
  keys: 'Shift+?',
  undo: '$mod+z',
  redo: '$mod+Shift+z',
  back: 'Alt+ArrowLeft',
  forward: 'Alt+ArrowRight',
  'next-finding': 'F8',
  'finding-before': 'Shift+F8',
  ...Object.fromEntries(VIEWS.map(({ path, key }) => [`view-${path}`, key])),
}

/** Other keys for the same, where a browser or a desktop has taken the first for itself. */
export const OTHER_KEYS: Readonly<Record<string, string>> = {
  palette: 'Alt+k',
  redo: '$mod+y',
  back: 'Alt+Shift+ArrowLeft',
  forward: 'Alt+Shift+ArrowRight',
  ...Object.fromEntries(VIEWS.map(({ path }, at) => [`view-${path}`, `Alt+Shift+Digit${at + 1}`])),
}

const SIGNS: Readonly<Record<string, string>> = {
  $mod: 'Ctrl',
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
  'Shift+?': '?',
}

/** A key as it is read: "Ctrl+Shift+H". */
export function sayKey(key: string): string {
  return (
    SIGNS[key] ??
    key
      .split('+')
      .map((part) => SIGNS[part] ?? /^Digit(\d)$/.exec(part)?.[1] ?? (part.length === 1 ? part.toUpperCase() : part))
      .join('+')
  )
}

const key = (command: string) =>
  [KEY_TABLE[command], OTHER_KEYS[command]].flatMap((one) => (one === undefined ? [] : [sayKey(one)])).join(' or ')

/** Every key that does something, as the list of keys shows them. */
export const SHORTCUTS: readonly { readonly keys: string; readonly does: string }[] = [
  {
    keys: 'Enter',
    does: 'In a line: the next line, in the same voice; in the middle of one: part it. Shift+Enter breaks it.',
  },
  { keys: 'Enter again', does: 'In an empty line: somebody else speaks it; in the end nobody.' },
  {
    keys: 'Backspace',
    does: 'In an empty line or choice: take it away. At the start of a line: join it to the one before.',
  },
  { keys: '↑ ↓', does: 'At the edge of a line or choice: to the one before or after.' },
  { keys: 'Alt+.', does: 'What can be added to the row one is in, or changed in its margin.' },
  { keys: 'Ctrl+Enter', does: 'A new choice in this beat, from anywhere in it.' },
  { keys: 'Ctrl+Shift+Enter', does: 'A new beat after this one.' },
  { keys: 'Ctrl+Alt+Enter', does: 'In a line: another variant of it.' },
  { keys: 'Alt+C', does: 'In a line or choice: a cue for the game.' },
  { keys: '{', does: 'In a text: what can be put in; words by a flag, a number or a stage.' },
  { keys: 'Alt+Enter', does: 'In a line: split the beat here; this line and what follows become the next beat.' },
  { keys: 'Name:', does: 'The first letters of a name and a colon at the start of a line: that person speaks.' },
  { keys: 'Alt+↑ Alt+↓', does: 'Move the line or choice up or down; in its name, the beat.' },
  {
    keys: key('palette'),
    does: 'Do or go to anything by a few letters: beats, people, entries, words of a line, commands.',
  },
  { keys: key('replace'), does: 'Find and replace, each place shown first.' },
  { keys: `${key('back')} ${key('forward')}`, does: 'Back and forward through the beats you have been at.' },
  {
    keys: 'In the outline',
    does: '↑ ↓ go, Alt+↑ ↓ move, Space or Shift+↑ ↓ choose several, Ctrl+C X V copy, cut, paste beats, Delete.',
  },
  { keys: key('next-finding'), does: `The next finding (${key('finding-before')}: the one before).` },
  { keys: key('undo'), does: `Undo. ${key('redo')}: redo.` },
  {
    keys: `${VIEWS[0].key} … ${VIEWS[VIEWS.length - 1]!.key}, or Alt+Shift with the same number`,
    does: `${VIEWS.map(({ name }) => name).join(', ')}.`,
  },
  { keys: '1 … 9', does: 'In the rehearsal: take that choice. Backspace: one step back. E: to the text of this beat.' },
  {
    keys: `${COLUMN_KEYS.start} ${COLUMN_KEYS.end}`,
    does: 'Open or close the column on the left, on the right.',
  },
  { keys: key('keys'), does: 'This list.' },
]
