import { readFileSync } from 'node:fs'
import * as z from 'zod'

/** The version in package.json, which stands two folders above the built command. */
export const VERSION = z
  .object({ version: z.string() })
  .parse(JSON.parse(readFileSync(new URL('../../package.json', import.meta.url), 'utf8'))).version
