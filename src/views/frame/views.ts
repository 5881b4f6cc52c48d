/** The views of a story: where each stands in the address, what it is called, and the key that goes there. */
export const VIEWS = [
  { path: 'desk', name: 'Desk', goTo: 'Go to the Desk', key: 'Alt+1' },
  { path: 'quests', name: 'Quests', goTo: 'Go to the Quests', key: 'Alt+2' },
  { path: 'ledger', name: 'Ledger', goTo: 'Go to the Ledger', key: 'Alt+3' },
  { path: 'rehearse', name: 'Rehearse', goTo: 'Rehearse', key: 'Alt+4' },
  { path: 'bearings', name: 'Bearings', goTo: 'Go to the Bearings', key: 'Alt+5' },
  { path: 'atlas', name: 'Atlas', goTo: 'Go to the Atlas', key: 'Alt+6' },
  { path: 'languages', name: 'Languages', goTo: 'Go to the Languages', key: 'Alt+7' },
] as const

export type ViewPath = (typeof VIEWS)[number]['path'] | 'history' | 'export' | 'share' | 'comments'
