/** Every key that does something, as the list on "?" shows them. */
export const SHORTCUTS = [
  { keys: 'Enter', does: 'In a line: the next line. Shift+Enter breaks a line.' },
  { keys: 'Backspace', does: 'In an empty line or choice: take it away.' },
  { keys: 'Ctrl+Enter', does: 'A new choice in this beat.' },
  { keys: 'Ctrl+Shift+Enter', does: 'A new beat after this one.' },
  { keys: 'Ctrl+Alt+Enter', does: 'In a line: another variant of it.' },
  { keys: '{', does: 'In a text: what can be put in; words by a flag, a number or a stage.' },
  { keys: 'Alt+Enter', does: 'In a line: split the beat here; this line and what follows become the next beat.' },
  { keys: 'Name:', does: 'The first letters of a name and a colon at the start of a line: that person speaks.' },
  { keys: 'Alt+↑ Alt+↓', does: 'Move the line or choice up or down; in its name, the beat.' },
  { keys: 'Ctrl+K', does: 'Do or go to anything by a few letters: beats, people, entries, words of a line, commands.' },
  { keys: 'Ctrl+Shift+H', does: 'Find and replace, each place shown first.' },
  { keys: 'Alt+← Alt+→', does: 'Back and forward through the beats you have been at.' },
  {
    keys: 'In the outline',
    does: '↑ ↓ go, Alt+↑ ↓ move, Space or Shift+↑ ↓ choose several, Ctrl+C X V copy, cut, paste beats, Delete.',
  },
  { keys: 'F8', does: 'The next finding (Shift+F8: the one before).' },
  { keys: 'Ctrl+Z', does: 'Undo. Ctrl+Shift+Z: redo.' },
  { keys: 'Alt+1 … Alt+5', does: 'Desk, Quests, Ledger, Rehearse, Bearings.' },
  { keys: '1 … 9', does: 'In the rehearsal: take that choice. Backspace: one step back. E: to the text of this beat.' },
  { keys: '?', does: 'This list.' },
] as const
