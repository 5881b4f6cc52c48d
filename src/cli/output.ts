/** Nobody reads what is printed, or it can't be kept: what was found does not count then. */
export class OutputFailed extends Error {}

let failed: Error | undefined
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  failed = new OutputFailed(
    error.code === 'EPIPE' ? 'standard output was closed before all was written' : `standard output: ${error.message}`,
  )
})

/** Writes parts to standard output as fast as they are taken, and waits until the last is. */
export async function print(parts: Iterable<string>): Promise<void> {
  let buffer = ''
  const write = async () => {
    const text = buffer
    buffer = ''
    await new Promise<void>((done) => process.stdout.write(text, () => done()))
    if (failed !== undefined) throw failed
  }
  for (const part of parts) {
    buffer += part
    if (buffer.length > 64 * 1024) await write()
  }
  await write()
  // what failed is told after the last was handed over
  await new Promise((done) => setImmediate(done))
  if (failed !== undefined) throw failed
}
