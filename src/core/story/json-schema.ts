import * as z from 'zod'
import { storySchema } from './schema'

/** The JSON Schema (draft 2020-12) of the story document. */
export function storyJsonSchema(): object {
  return { title: 'Paper Compass story', ...z.toJSONSchema(storySchema, { target: 'draft-2020-12', io: 'input' }) }
}
