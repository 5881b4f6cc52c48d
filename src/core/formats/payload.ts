import { fail, ok, type Result } from '../base/result'

/** What a file holds, as it is written. */
export type Payload = string | Uint8Array

/** More than all texts of the largest story in one language, in bytes; a file that is taken in has at most so many. */
export const INCOMING_BYTES = 32 * 1024 * 1024

/** The text of a file: UTF-8, or UTF-16 where it begins with its mark, as spreadsheets write it. */
export function textOf(bytes: Uint8Array): Result<string> {
  const encoding =
    bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : 'utf-8'
  try {
    return ok(new TextDecoder(encoding, { fatal: true }).decode(bytes))
  } catch {
    return fail('this file is not UTF-8 text; save it as UTF-8 and try again')
  }
}
