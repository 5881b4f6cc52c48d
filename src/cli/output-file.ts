import { writeFileSync } from 'node:fs'
import type { Payload } from '../core/formats/payload'
import { print } from './output'

export function warn(text: string): void {
  process.stderr.write(`${text}\n`)
}

/** What can't be read or written ends with code 2. */
export function refuse(text: string): void {
  warn(text)
  process.exitCode = 2
}

/** Writes to a file, or to standard output where none is named. */
export async function writeOut(path: string | undefined, content: Payload): Promise<void> {
  if (path === undefined) {
    if (typeof content === 'string') return print([content])
    process.stdout.write(content)
    return
  }
  try {
    writeFileSync(path, content)
  } catch (error) {
    refuse(`${path}: ${(error as Error).message}`)
  }
}
