import { applyChange } from '../../core/story/changes/apply'
import type { Change } from '../../core/story/changes/types'
import type { Story } from '../../core/story/types'
import type { Sql } from '../database'
import { endPieces, writePieces } from '../piece-rows'
import { PieceKeys } from '../pieces'
import { countsOf } from '../story-edits'
import { readLists } from './read-rows'

const HEADER = ['title', 'language', 'start', 'notes'] as const

/** Puts every story of a data folder that kept them as rows into pieces, with its whole history. */
export async function convertRows(sql: Sql): Promise<void> {
  const rows = await sql.query('select id, title, language, start, notes, extra, revision from story')
  for (const row of rows) {
    const id = row.id as string
    const header: Record<string, unknown> = { paperCompass: 1 }
    for (const key of HEADER) if (row[key] !== null) header[key] = row[key]
    const story = {
      ...header,
      ...(row.extra as object),
      scenes: [],
      ...(await readLists(sql, id)),
    } as unknown as Story
    const inverses = await sql.query<{ revision: number; inverse: Change }>(
      'select revision, inverse from journal where story_id = $1 order by revision desc',
      [id],
    )
    // back to the beginning, then forward: what two points share is the same object
    const points = [story]
    for (const { revision, inverse } of inverses) {
      const applied = applyChange(points.at(-1)!, inverse)
      if (!applied.ok) throw new Error(`the history of “${story.title}” does not lead back past ${revision}`)
      points.push(applied.value.story)
    }
    points.reverse()
    const keys = new PieceKeys()
    let before: Story | undefined
    for (const [revision, point] of points.entries()) {
      const step = keys.step(before, point)
      await endPieces(sql, id, revision, step.ended)
      await writePieces(sql, id, revision, step.begun)
      step.keep()
      before = point
    }
    const { scenes, beats } = countsOf(story)
    await sql.query('update story set scenes = $2, beats = $3 where id = $1', [id, scenes, beats])
  }
}
