import { spawnSync } from 'node:child_process'
import { mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { gzipSync } from 'node:zlib'
import { expect, test } from '@jest/globals'
import { ensureRuntime } from '../scripts/build-runtime.mjs'
import type * as Runtime from '../packages/runtime/src/index'
import { kitFiles } from './kit/kit'
import { playTraces } from './kit/play'
import type { Traces } from './kit/traces'

const FOLDER = resolve('conformance/play')
const files = readdirSync(FOLDER).filter((name) => name.endsWith('.json'))
const read = (name: string) => JSON.parse(readFileSync(join(FOLDER, name), 'utf8')) as Traces
const dist = await ensureRuntime()

test('the kit that is kept is what the contract’s own players make', () => {
  const made = new Map(kitFiles())
  expect([...made.keys()].sort()).toEqual([...files].sort())
  for (const [name, text] of made)
    expect([name, text === readFileSync(join(FOLDER, name), 'utf8')]).toEqual([name, true])
})

const modules: [string, () => Promise<typeof Runtime>][] = [
  ['imported', () => import(pathToFileURL(join(dist, 'index.js')).href) as Promise<typeof Runtime>],
  ['required', async () => createRequire(import.meta.url)(join(dist, 'index.cjs')) as typeof Runtime],
]

test.each(modules)('the built runtime plays the kit, %s', async (_, load) => {
  const runtime = await load()
  let steps = 0
  for (const name of files) {
    const traces = read(name)
    expect([name, playTraces(runtime, traces)]).toEqual([name, []])
    steps += traces.traces.reduce((sum, trace) => sum + trace.steps.length, 0)
  }
  expect(steps).toBeGreaterThan(5000)
})

test('the runtime with its texts is below 40 kB compressed', () => {
  expect(gzipSync(readFileSync(join(dist, 'index.js')), { level: 9 }).length).toBeLessThan(40_000)
})

const run = (command: string, args: readonly string[]) => {
  const { status, stdout, stderr, error } = spawnSync(command, args, { encoding: 'utf8' })
  if (error !== undefined) throw new Error(`${command} is needed for this test: ${error.message}`)
  return { status, said: `${stdout}${stderr}` }
}

const checkers: [string, (paths: string[]) => { status: number | null; said: string }][] = [
  ...['lua5.1', 'lua5.4', 'luajit'].map(
    (lua): [string, (paths: string[]) => { status: number | null; said: string }] => [
      lua,
      (paths) => run(lua, [resolve('ports/lua/check.lua'), ...paths]),
    ],
  ),
  [
    'C#',
    (paths) => {
      const folder = resolve('dist/ports')
      mkdirSync(folder, { recursive: true })
      const program = join(folder, 'Check.exe')
      const sources = ['PaperCompass.cs', 'Json.cs', 'Check.cs'].map((name) => resolve('ports/csharp', name))
      const built = run('mcs', ['-langversion:6', '-r:System.Numerics.dll', `-out:${program}`, ...sources])
      return built.status === 0 ? run('mono', [program, ...paths]) : built
    },
  ],
]

test.each(checkers)('the port for %s plays the kit, and tells a difference', (_, check) => {
  const { status, said } = check(files.map((name) => join(FOLDER, name)))
  expect([status, said]).toEqual([0, expect.stringMatching(/^\d{4,} steps checked, 0 traces differ\s*$/)])
  // one letter of one line, and one number of a save
  const wrong = read('causeway.json')
  const line = wrong.traces[0]!.steps[0]!.expect.lines![0] as { text: string }
  line.text += '!'
  const kept = wrong.traces[1]!.save as { visits: Record<string, number> }
  kept.visits[Object.keys(kept.visits)[0]!]! += 1
  mkdirSync(resolve('dist/ports'), { recursive: true })
  const path = resolve('dist/ports/wrong.json')
  writeFileSync(path, JSON.stringify(wrong))
  const other = check([path])
  expect([other.status, other.said]).toEqual([1, expect.stringMatching(/2 traces differ\s*$/)])
})
