export { loadBundle, type PlayableStory } from './story'
export type { Playthrough } from './playthrough'
export { RuntimeError } from './error'
export type {
  BeginOptions,
  Carried,
  Choice,
  Closed,
  Cue,
  EntryChange,
  Events,
  JournalPage,
  Line,
  Loaded,
  Manner,
  Prompt,
  RouteItem,
  Save,
  StageChange,
  Status,
  Value,
} from './types'
