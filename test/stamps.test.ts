import { spawn } from 'node:child_process'
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs'
import { once } from 'node:events'
import { join, relative } from 'node:path'
import { pathToFileURL } from 'node:url'
import { isStampOf, root, stampOf } from '../scripts/ensure.mjs'

test('what was built holds as long as its sources say the same, however they were touched, and no longer', () => {
  mkdirSync(join(root, 'dist'), { recursive: true })
  const folder = mkdtempSync(join(root, 'dist', 'stamps-'))
  try {
    const file = (name: string) => join(folder, 'in', name)
    const sources = [relative(root, join(folder, 'in')), relative(root, join(folder, 'one.ts'))]
    const stamp = join(folder, 'stamp')
    const write = (name: string, text: string) => {
      writeFileSync(file(name), text)
      // a change that is set back to the time before is one all the same
      utimesSync(file(name), 1000, 1000)
    }
    const holds = () => isStampOf(stamp, sources)
    mkdirSync(join(folder, 'in'))
    write('a.ts', 'let a = 1')
    write('b.ts', 'let b = 1')
    expect(holds()).toBe(false)
    writeFileSync(stamp, stampOf(sources))
    expect(holds()).toBe(true)
    write('a.ts', 'let a = 2')
    expect(holds()).toBe(false)
    write('a.ts', 'let a = 1')
    expect(holds()).toBe(true)
    write('c.ts', '')
    expect(holds()).toBe(false)
    rmSync(file('c.ts'))
    expect(holds()).toBe(true)
    rmSync(file('b.ts'))
    expect(holds()).toBe(false)
    write('b.ts', 'let b = 1')
    writeFileSync(join(folder, 'one.ts'), '')
    expect(holds()).toBe(false)
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
})

test('of processes that find the same out of date each makes it whole, and what one left in the middle is gone', async () => {
  mkdirSync(join(root, 'dist'), { recursive: true })
  const folder = mkdtempSync(join(root, 'dist', 'built-'))
  try {
    const out = join(folder, 'out')
    writeFileSync(join(folder, 'in.ts'), 'let a = 1')
    // no process has such a number
    mkdirSync(`${out}.new-999999999`)
    const script = `
      import { writeFileSync } from 'node:fs'
      import { builtFrom } from ${JSON.stringify(pathToFileURL(join(root, 'scripts', 'ensure.mjs')).href)}
      const wait = () => new Promise((done) => setTimeout(done, Math.random() * 40))
      for (let round = 0; round < 8; round += 1) {
        writeFileSync(${JSON.stringify(join(folder, 'in.ts'))}, 'let a = ' + Math.random())
        await builtFrom([${JSON.stringify(relative(root, join(folder, 'in.ts')))}], ${JSON.stringify(out)}, async (made) => {
          for (const name of ['one', 'two', 'three']) {
            writeFileSync(made + '/' + name, String(process.pid))
            await wait()
          }
        })
      }`
    const all = Array.from({ length: 4 }, () =>
      spawn(process.execPath, ['--input-type=module', '-e', script], { stdio: ['ignore', 'ignore', 'pipe'] }),
    )
    let said = ''
    for (const one of all) one.stderr.on('data', (chunk) => (said += String(chunk)))
    const ended = await Promise.all(all.map((one) => once(one, 'close')))
    expect({ ended: ended.map(([code]) => code as number), said }).toEqual({ ended: [0, 0, 0, 0], said: '' })
    expect(readdirSync(folder).sort()).toEqual(['in.ts', 'out'])
    expect(readdirSync(out).sort()).toEqual(['one', 'stamp', 'three', 'two'])
    expect(new Set(['one', 'two', 'three'].map((name) => readFileSync(join(out, name), 'utf8'))).size).toBe(1)
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
})
