import { readFile, stat } from 'node:fs/promises'
import { STORY_FILE_BYTES } from '../core/base/limits'
import { fail, ok, type Result } from '../core/base/result'
import { formatMalformed, readStory } from '../core/story/read'
import type { Story } from '../core/story/types'

export interface Input {
  readonly name: string
  readonly text: string
  readonly story: Story
}

/** Reads a story from a file, or from standard input as "-". */
export async function readInput(path: string): Promise<Result<Input>> {
  const name = path === '-' ? 'standard input' : path
  const text = await readText(path)
  if (!text.ok) return fail(`${name}: ${text.error}`)
  const story = readStory(text.value)
  if (!story.ok) return fail(`${name}: this is no story document\n${formatMalformed(story.error)}`)
  return ok({ name, text: text.value, story: story.value })
}

async function readText(path: string): Promise<Result<string>> {
  const bytes = await readBytes(path, STORY_FILE_BYTES, `a story file has at most ${STORY_FILE_BYTES / 1024 / 1024} MB`)
  return bytes.ok ? decode(bytes.value) : bytes
}

/** The bytes of a file, or of standard input as "-"; `tooLarge` is told of more than `limit`. */
export async function readBytes(path: string, limit: number, tooLarge: string): Promise<Result<Uint8Array>> {
  try {
    if (path === '-') return await readStandardInput(limit, tooLarge)
    return (await stat(path)).size > limit ? fail(tooLarge) : ok(await readFile(path))
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException
    return fail(
      code === 'ENOENT' ? 'there is no such file' : code === 'EISDIR' ? 'this is a folder, not a file' : message,
    )
  }
}

async function readStandardInput(limit: number, tooLarge: string): Promise<Result<Uint8Array>> {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of process.stdin as AsyncIterable<Buffer>) {
    chunks.push(chunk)
    size += chunk.length
    if (size > limit) return fail(tooLarge)
  }
  return ok(Buffer.concat(chunks))
}

function decode(bytes: Uint8Array): Result<string> {
  try {
    return ok(new TextDecoder('utf-8', { fatal: true }).decode(bytes))
  } catch {
    return fail('this file is not UTF-8 text')
  }
}
