import { plainId } from '../../../core/base/ids'
import { beatOf } from '../../../core/base/address'
import { namesIn } from '../../../core/story/reshape/names-in'
import { linesOf, type Beat, type Story } from '../../../core/story/types'
import { isTodo } from '../../../core/story/words'
import type { SurveyReport } from '../../../session/survey-report'

export interface SceneRow {
  readonly kind: 'scene'
  readonly id: string
  readonly title: string
  readonly open: boolean
  readonly at: number
}

export interface BeatRow {
  readonly kind: 'beat'
  readonly address: string
  readonly id: string
  /** What it is called. */
  readonly name: string
  readonly scene: string
  readonly at: number
  readonly ending: boolean
  readonly place: boolean
  readonly todo: boolean
}

export type Row = SceneRow | BeatRow

/** Which beats the outline shows: all, or those of which something is so. `of:id` names a person, an entry or a quest. */
export type Filter =
  'all' | 'unreached' | 'found' | 'todo' | 'empty' | `person:${string}` | `entry:${string}` | `quest:${string}`

/** The filters that are always offered. */
export const FILTERS: readonly { readonly value: Filter; readonly label: string }[] = [
  { value: 'all', label: 'all beats' },
  { value: 'unreached', label: 'never reached' },
  { value: 'found', label: 'with findings' },
  { value: 'todo', label: 'with a to-do' },
  { value: 'empty', label: 'with an empty line' },
]

type Looked = Pick<SurveyReport, 'unreached' | 'findings'>

export function outlineRows(
  story: Story,
  search: string,
  filter: Filter,
  result: Looked | undefined,
  isFolded: (scene: string) => boolean,
): Row[] {
  const wanted = search.trim().toLowerCase()
  const all = wanted === '' && filter === 'all'
  const passes = predicate(filter, result)
  return story.scenes.flatMap((scene, at): Row[] => {
    const open = !all || !isFolded(scene.id)
    const head: Row = { kind: 'scene', id: scene.id, title: scene.title, open, at }
    if (!open) return [head]
    const found = scene.beats.flatMap((beat, index): Row[] => {
      if (
        !all &&
        !(passes(`${scene.id}.${beat.id}`, beat) && (wanted === '' || beatText(scene.title, beat).includes(wanted)))
      )
        return []
      return [beatRow(scene.id, beat, index)]
    })
    return !all && found.length === 0 ? [] : [head, ...found]
  })
}

const beatRows = new WeakMap<Beat, BeatRow>()

/** A beat that stands as it did has the same row, which then need not be drawn again. */
function beatRow(scene: string, beat: Beat, at: number): BeatRow {
  const known = beatRows.get(beat)
  if (known !== undefined && known.scene === scene && known.at === at) return known
  const row: BeatRow = {
    kind: 'beat',
    address: `${scene}.${beat.id}`,
    id: beat.id,
    name: beat.title ?? plainId(beat.id),
    scene,
    at,
    ending: beat.ending !== undefined,
    place: beat.place === true,
    todo: notesOf(beat).some(isTodo),
  }
  beatRows.set(beat, row)
  return row
}

function predicate(filter: Filter, result: Looked | undefined): (address: string, beat: Beat) => boolean {
  if (filter === 'all') return () => true
  if (filter === 'unreached') {
    const unreached = new Set(result?.unreached.beats)
    return (address) => unreached.has(address)
  }
  if (filter === 'found') {
    const found = new Set(
      (result?.findings ?? []).flatMap(({ key }) => key.flatMap((part) => beatOf(part) ?? [])) as string[],
    )
    return (address) => found.has(address)
  }
  if (filter === 'todo') return (_, beat) => notesOf(beat).some(isTodo)
  if (filter === 'empty')
    return (_, beat) =>
      linesOf(beat).some(({ text }) => text.trim() === '') ||
      (beat.choices ?? []).some(({ text }) => text.trim() === '')
  const at = filter.indexOf(':')
  const of = ({ person: 'people', entry: 'entries', quest: 'quests' } as const)[
    filter.slice(0, at) as 'person' | 'entry' | 'quest'
  ]
  return (_, beat) => namesIn(beat)[of].has(filter.slice(at + 1))
}

function notesOf(beat: Beat): (string | undefined)[] {
  return [beat.notes, ...linesOf(beat).map(({ notes }) => notes), ...(beat.choices ?? []).map(({ notes }) => notes)]
}

const texts = new WeakMap<Beat, string>()

/** All that is read in a beat, in small letters. */
export function beatText(scene: string, beat: Beat): string {
  let text = texts.get(beat)
  if (text === undefined) {
    const parts = [
      plainId(beat.id),
      beat.title,
      beat.ask?.prompt,
      ...notesOf(beat),
      ...linesOf(beat).flatMap((line) => [line.speaker, line.text]),
      ...(beat.choices ?? []).map((choice) => choice.text),
    ]
    text = parts.join('\n').toLowerCase()
    texts.set(beat, text)
  }
  return `${scene.toLowerCase()}\n${text}`
}
