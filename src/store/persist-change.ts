import { assert, never } from '../core/base/assert'
import { applyChange } from '../core/story/changes/apply'
import { findItem, getList } from '../core/story/changes/list'
import type { Change, ListPath } from '../core/story/changes/types'
import type { Story } from '../core/story/types'
import type { Sql } from './database'
import { BEATS, ENTRIES, LISTS, type Shape } from './shapes'
import { writeObjects, type Parent } from './write-rows'

/** Carries a change that applies to `before` over to the story's rows: only those that it touches. */
export async function persistChange(sql: Sql, id: string, before: Story, change: Change): Promise<void> {
  switch (change.op) {
    case 'set-story':
      return setColumns(sql, 'story', 'id', id, change.values)
    case 'set-scene': {
      const key = await sceneKey(sql, id, before, change.scene)
      return setColumns(sql, 'scene', 'key', key, change.values)
    }
    case 'batch': {
      let story = before
      for (const inner of change.changes) {
        await persistChange(sql, id, story, inner)
        const applied = applyChange(story, inner)
        assert(applied.ok, 'a batch that applied before does not apply again')
        story = applied.value.story
      }
      return
    }
    case 'insert':
    case 'remove':
    case 'replace':
    case 'move':
      return changeList(sql, id, before, change)
    default:
      return never(change)
  }
}

async function changeList(
  sql: Sql,
  id: string,
  before: Story,
  change: Extract<Change, { in: ListPath }>,
): Promise<void> {
  const list = getList(before, change.in)
  assert(list.ok, 'a change to a missing list')
  const place = await placeOf(sql, id, before, change.in)
  if (change.op === 'insert') {
    const at = Math.min(change.at, list.value.length)
    await sql.query(`update ${place.shape.table} set position = position + 1 where ${place.where} and position >= $3`, [
      ...place.parameters,
      at,
    ])
    return writeObjects(sql, place.shape, [change.item], place.parent, at)
  }
  const at = findItem(list.value, change.id, change.at)
  assert(at !== -1, 'a change to a missing item')
  if (change.op === 'move') {
    const to = Math.min(change.to, list.value.length - 1)
    await sql.query(
      `update ${place.shape.table} set position = case
         when position = $3::int then $4::int
         when $3::int < $4::int and position > $3::int and position <= $4::int then position - 1
         when $4::int < $3::int and position >= $4::int and position < $3::int then position + 1
         else position end
       where ${place.where} and position between least($3::int, $4::int) and greatest($3::int, $4::int)`,
      [...place.parameters, at, to],
    )
    return
  }
  await sql.query(`delete from ${place.shape.table} where ${place.where} and position = $3`, [...place.parameters, at])
  if (change.op === 'replace') return writeObjects(sql, place.shape, [change.item], place.parent, at)
  await sql.query(`update ${place.shape.table} set position = position - 1 where ${place.where} and position > $3`, [
    ...place.parameters,
    at,
  ])
}

interface Place {
  readonly shape: Shape
  readonly parent: Parent
  /** Which rows are the list's; its two parameters are $1 and $2. */
  readonly where: string
  readonly parameters: readonly unknown[]
}

async function placeOf(sql: Sql, id: string, story: Story, path: ListPath): Promise<Place> {
  if (path.list === 'beats' || path.list === 'sceneLedger') {
    const key = await sceneKey(sql, id, story, path.scene)
    return {
      shape: path.list === 'beats' ? BEATS : ENTRIES,
      parent: { story: id, column: 'scene_key', key },
      where: 'story_id = $1 and scene_key = $2::bigint',
      parameters: [id, key],
    }
  }
  // Of the ledger only the story's own entries; elsewhere the second parameter says nothing.
  const where =
    path.list === 'ledger'
      ? 'story_id = $1 and scene_key is null and $2::text is null'
      : 'story_id = $1 and $2::text is null'
  return { shape: LISTS[path.list], parent: { story: id }, where, parameters: [id, null] }
}

async function sceneKey(sql: Sql, id: string, story: Story, scene: string): Promise<number> {
  const position = story.scenes.findIndex((one) => one.id === scene)
  const [row] = await sql.query<{ key: number }>('select key from scene where story_id = $1 and position = $2', [
    id,
    position,
  ])
  assert(row !== undefined, `the scene ${scene} has no row`)
  return row.key
}

async function setColumns(
  sql: Sql,
  table: string,
  keyColumn: string,
  key: unknown,
  values: Readonly<Record<string, string | null>>,
): Promise<void> {
  for (const [column, value] of Object.entries(values)) {
    assert(/^[a-z]+$/.test(column), `no such column: ${column}`)
    await sql.query(`update ${table} set ${column} = $1 where ${keyColumn} = $2`, [value, key])
  }
}
