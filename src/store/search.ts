import type { Hit } from '../core/contract/answers'
import type { Sql } from './database'

/** Most that one search gives. */
export const HITS_MAX = 200

/** Everything in a story that has all the words, each as the beginning of a word; in the story's order. */
export async function searchStory(sql: Sql, story: string, text: string): Promise<Hit[]> {
  const words = text.normalize('NFC').match(/[\p{L}\p{N}]+/gu)
  if (words === null) return []
  return sql.query<Hit & Record<string, unknown>>(
    `select kind, address, text, notes, who from story_words
     where story_id = $1 and words @@ to_tsquery('simple', $2)
     order by scene_position, beat_position, part, position limit ${HITS_MAX}`,
    // only letters and digits are left: nothing that the query language could read otherwise
    [story, words.map((word) => `${word}:*`).join(' & ')],
  )
}
