import { fail, ok, type Result } from './result'

/** JSON as it stands in files: a byte order mark before it is no fault. The error says what is wrong with it. */
export function parseJson(text: string): Result<unknown> {
  try {
    return ok(JSON.parse(text.replace(/^\uFEFF/, '')))
  } catch (error) {
    return fail((error as Error).message)
  }
}
