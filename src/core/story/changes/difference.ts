import { isSame } from '../../base/same'
import { PAGE_KEYS } from '../schema'
import type { Scene, Story, Translation } from '../types'
import { applyChange } from './apply'
import { getList } from './list'
import { SCENE_LISTS, STORY_LISTS } from './lists'
import { valueOf } from './set-values'
import type { Change, Item, ListPath, Values } from './types'

/** A batch that makes `from` into `to`: what both have is not named. */
export function differenceOf(from: Story, to: Story): Change {
  const changes: Change[] = []
  let now = from
  const make = (change: Change) => {
    const applied = applyChange(now, change)
    if (!applied.ok) throw new Error(`the difference of two stories does not apply: ${applied.error}`)
    now = applied.value.story
    changes.push(change)
  }
  const values = changedValues(from, to)
  if (values !== undefined && Object.keys(values).length > 0) make({ op: 'set-story', values })
  const page = changedValues(from.page ?? {}, to.page ?? {}, PAGE_KEYS)
  if (page !== undefined && Object.keys(page).length > 0) make({ op: 'set-page', values: page })
  for (const change of changedTexts(from, to)) make(change)
  for (const list of STORY_LISTS) {
    if (list !== 'scenes') makeList({ list }, to[list])
  }
  makeList({ list: 'scenes' }, to.scenes)
  return { op: 'batch', changes }

  /** `there`: undefined where there is no such list. */
  function makeList(path: ListPath, there: readonly Item[] | undefined): void {
    const target = there ?? []
    const items = (): readonly Item[] => {
      const list = getList(now, path)
      return list.ok ? list.value : []
    }
    if (isSame(items(), target)) return
    const wanted = new Map<string, number>()
    for (const { id } of target) wanted.set(id, (wanted.get(id) ?? 0) + 1)
    const kept = new Map<string, number>()
    const surplus = items().flatMap(({ id }, at) => {
      const count = (kept.get(id) ?? 0) + 1
      kept.set(id, count)
      return count > (wanted.get(id) ?? 0) ? [{ id, at }] : []
    })
    const drops = there === undefined && { drops: true as const }
    for (const { id, at } of surplus.reverse()) make({ op: 'remove', in: path, id, at, ...drops })
    for (const [at, item] of target.entries()) {
      const { id } = item
      const here = items()
      if (here[at] === undefined || here[at].id !== id) {
        const later = here.findIndex((one, index) => index > at && one.id === id)
        if (later === -1) make({ op: 'insert', in: path, at, item })
        else make({ op: 'move', in: path, id, at: later, to: at })
      }
      const standing = items()[at]!
      if (standing === item || isSame(standing, item)) continue
      if (path.list !== 'scenes' || !makeScene(standing as Scene, item as Scene))
        make({ op: 'replace', in: path, id, at, item })
    }
  }

  /** Makes a scene part by part; false where that can't be done, as another scene has its id or it has unknown keys. */
  function makeScene(before: Scene, after: Scene): boolean {
    const changed = changedValues(before, after)
    if (changed === undefined || now.scenes.filter(({ id }) => id === after.id).length > 1) return false
    if (Object.keys(changed).length > 0) make({ op: 'set-scene', scene: after.id, values: changed })
    for (const list of SCENE_LISTS) makeList({ list, scene: after.id }, list === 'beats' ? after.beats : after.ledger)
    return true
  }
}

/** What sets the translations of one story to those of another. */
function changedTexts(from: Story, to: Story): Change[] {
  const languages = new Set([...Object.keys(from.languages ?? {}), ...Object.keys(to.languages ?? {})])
  return [...languages].flatMap((language): Change[] => {
    const before = from.languages?.[language]?.texts ?? {}
    const after = to.languages?.[language]?.texts ?? {}
    const keys = new Set([...Object.keys(before), ...Object.keys(after)])
    const values = [...keys].flatMap((key): [string, Translation | null][] =>
      isSame(own(before, key), own(after, key)) ? [] : [[key, own(after, key)]],
    )
    return values.length === 0 ? [] : [{ op: 'set-texts', language, values: Object.fromEntries(values) }]
  })
}

function own(texts: Readonly<Record<string, Translation>>, key: string): Translation | null {
  return Object.hasOwn(texts, key) ? texts[key]! : null
}

const SETTABLE: readonly string[] = ['title', 'language', 'start', 'notes', 'textLimit']
const LIST_KEYS: ReadonlySet<string> = new Set([...STORY_LISTS, 'beats', 'ledger', 'languages', 'page'])

/** The texts that differ, null for one that is gone; undefined where something else than settable texts differs. */
function changedValues(before: object, after: object, settable = SETTABLE): Values | undefined {
  const left = before as Record<string, unknown>
  const right = after as Record<string, unknown>
  const values: Record<string, string | number | null> = {}
  for (const key of new Set([...Object.keys(left), ...Object.keys(right)])) {
    if (LIST_KEYS.has(key) || isSame(left[key], right[key])) continue
    if (!settable.includes(key)) return undefined
    values[key] = valueOf(right[key])
  }
  return values
}
