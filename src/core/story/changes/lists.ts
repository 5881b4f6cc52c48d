/**
 * The lists of a story whose items are changed one by one: where each stands, and what an item of it is called in
 * messages. Paths, their schema and what is looked up in a story are read from here.
 */
export const LISTS = {
  cast: { of: 'story', key: 'cast', item: 'member of the cast' },
  cues: { of: 'story', key: 'cues', item: 'cue' },
  ledger: { of: 'story', key: 'ledger', item: 'ledger entry' },
  quests: { of: 'story', key: 'quests', item: 'quest' },
  endings: { of: 'story', key: 'endings', item: 'ending' },
  promises: { of: 'story', key: 'promises', item: 'promise' },
  routes: { of: 'story', key: 'routes', item: 'route' },
  setAside: { of: 'story', key: 'setAside', item: 'finding set aside' },
  terms: { of: 'story', key: 'terms', item: 'term of the glossary' },
  recordings: { of: 'story', key: 'recordings', item: 'recording' },
  scenes: { of: 'story', key: 'scenes', item: 'scene' },
  beats: { of: 'scene', key: 'beats', item: 'beat' },
  /** The entries that live only inside a scene. */
  sceneLedger: { of: 'scene', key: 'ledger', item: 'ledger entry' },
} as const

export type ListName = keyof typeof LISTS
type ListsOf<Of extends 'story' | 'scene'> = {
  [List in ListName]: (typeof LISTS)[List]['of'] extends Of ? List : never
}[ListName]
export type StoryList = ListsOf<'story'>
export type SceneList = ListsOf<'scene'>

const named = (of: 'story' | 'scene') => (Object.keys(LISTS) as ListName[]).filter((list) => LISTS[list].of === of)
export const STORY_LISTS = named('story') as readonly StoryList[]
export const SCENE_LISTS = named('scene') as readonly SceneList[]
