import { mkdirSync, mkdtempSync, rmSync, utimesSync, writeFileSync } from 'node:fs'
import { join, relative } from 'node:path'
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
