import type { Sql } from './database'
import { PLAIN_TABLES, type Child, type Shape } from './shapes'

type Values = Record<string, unknown>

interface Pending {
  readonly table: string
  /** Number of the parent among the pending rows, or undefined when it is in the database. */
  readonly parent: number | undefined
  readonly parentColumn: string | undefined
  readonly values: Values
}

/** Where a list of objects hangs: under a row that is there already, or under the story itself. */
export interface Parent {
  readonly story: string
  /** `scene_key` and its value, for what lies in a scene. */
  readonly column?: string
  readonly key?: number
}

/** Writes objects with all that is in them, at consecutive positions. One statement a table. */
export async function writeObjects(
  sql: Sql,
  shape: Shape,
  objects: readonly object[],
  parent: Parent,
  from = 0,
): Promise<void> {
  const pending: Pending[] = []
  objects.forEach((object, index) => flatten(shape, object as Values, from + index, {}, undefined, undefined, pending))
  if (pending.length === 0) return
  const [reserved] = await sql.query<{ last: number }>(
    "select setval('row_key', (select last_value from row_key) + $1) as last",
    [pending.length],
  )
  const firstKey = reserved!.last - pending.length + 1
  const tables = new Map<string, Values[]>()
  pending.forEach((row, index) => {
    const values: Values = { ...row.values, key: firstKey + index, story_id: parent.story }
    if (row.parent !== undefined) values[row.parentColumn!] = firstKey + row.parent
    else if (parent.column !== undefined) values[parent.column] = parent.key
    const rows = tables.get(row.table)
    if (rows === undefined) tables.set(row.table, [values])
    else rows.push(values)
  })
  for (const [table, rows] of orderTables(tables)) {
    await sql.query(`insert into ${table} select * from jsonb_populate_recordset(null::public.${table}, $1::jsonb)`, [
      JSON.stringify(rows),
    ])
  }
}

/** Every table after those that its rows refer to; lines of variants come after the variants, which come after lines. */
const ORDER = [
  'cast_member',
  'scene',
  'ledger_entry',
  'quest',
  'quest_stage',
  'quest_move',
  'ending',
  'promise',
  'route',
  'route_decision',
  'set_aside',
  'beat',
  'ask',
  'choice',
  'line',
  'variant',
  'line of variant',
  'rule',
  'effect',
]

function orderTables(tables: ReadonlyMap<string, Values[]>): [string, Values[]][] {
  const lines = tables.get('line') ?? []
  return ORDER.flatMap((name): [string, Values[]][] => {
    if (name === 'line') return [[name, lines.filter((row) => row.variant_key === undefined)]]
    if (name === 'line of variant') return [['line', lines.filter((row) => row.variant_key !== undefined)]]
    return [[name, tables.get(name) ?? []]]
  }).filter(([, rows]) => rows.length > 0)
}

function flatten(
  shape: Shape,
  object: Values,
  position: number,
  fixed: Values,
  parent: number | undefined,
  parentColumn: string | undefined,
  pending: Pending[],
): void {
  const values: Values = { ...fixed }
  if (shape.table !== 'ask') values.position = position
  const extra: Values = {}
  const own = pending.length
  pending.push({ table: shape.table, parent, parentColumn, values })
  for (const [key, value] of Object.entries(object)) {
    if (value === undefined) continue
    const child = shape.children[key]
    if (child !== undefined && !(typeof value === 'string' && shape.columns.includes(key))) {
      if (Array.isArray(value) && value.length === 0) extra[key] = value
      else flattenChild(child, value, own, `${shape.table}_key`, pending)
    } else if (shape.columns.includes(key)) values[key] = value
    else extra[key] = value
  }
  if (!PLAIN_TABLES.has(shape.table)) values.extra = extra
}

function flattenChild(child: Child, value: unknown, parent: number, parentColumn: string, pending: Pending[]): void {
  switch (child.as) {
    case 'single':
      return flatten(child.shape, value as Values, 0, {}, parent, parentColumn, pending)
    case 'objects':
      return (value as Values[]).forEach((object, position) =>
        flatten(
          child.shape,
          object,
          position,
          child.role === undefined ? {} : { role: child.role },
          parent,
          parentColumn,
          pending,
        ),
      )
    case 'strings':
      return (value as string[]).forEach(
        (text, position) =>
          void pending.push({ table: child.table, parent, parentColumn, values: { position, [child.column]: text } }),
      )
    case 'pairs':
      return (value as [string, string][]).forEach(
        ([first, second], position) =>
          void pending.push({
            table: child.table,
            parent,
            parentColumn,
            values: { position, [child.columns[0]]: first, [child.columns[1]]: second },
          }),
      )
  }
}
