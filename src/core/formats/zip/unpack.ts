import { unzipSync, zipSync } from 'fflate'
import { fail, ok, type Result } from '../../base/result'

/** What an archive may hold when it is unpacked, in bytes and files. */
export const UNPACKED_BYTES = 192 * 1024 * 1024
const FILES_MAX = 5000
const LATIN = new TextDecoder('latin1')

/**
 * An office document (a ZIP archive of XML) as one that is safe to hand on: nothing in it grows beyond bounds, and no XML
 * in it declares entities. `has`: a file by which its kind is known.
 */
export function safeArchive(bytes: Uint8Array, has: string, kind: string): Result<Uint8Array> {
  if (bytes.length === 0) return fail('this file is empty')
  if (bytes[0] !== 0x50 || bytes[1] !== 0x4b) return fail(`this is no ${kind} file`)
  let total = 0
  let count = 0
  let files: Record<string, Uint8Array>
  try {
    // what the archive says of a file's size is all the room that the file gets
    files = unzipSync(bytes, {
      filter: ({ originalSize }) => {
        total += originalSize
        count += 1
        if (total > UNPACKED_BYTES || count > FILES_MAX) throw new TooMuch()
        return true
      },
    })
  } catch (error) {
    return fail(
      error instanceof TooMuch
        ? `there is more in this file than a ${kind} file has (${UNPACKED_BYTES / 1024 / 1024} MB)`
        : `this ${kind} file is damaged or cut off`,
    )
  }
  if (files[has] === undefined) return fail(`this is no ${kind} file`)
  for (const [name, content] of Object.entries(files))
    if (/\.(xml|rels)$/i.test(name) && /<!(DOCTYPE|ENTITY)/i.test(LATIN.decode(content)))
      return fail(`"${name}" in this file declares entities, which no ${kind} file needs`)
  return ok(zipSync(files, { level: 0 }))
}

class TooMuch extends Error {}
