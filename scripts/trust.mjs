import { spawnSync } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import { ensurePackages, root } from './ensure.mjs'
import { ensureRuntime } from './build-runtime.mjs'

/**
 * The tests on made-up stories with many more of them: `npm run trust -- [--times N] [--from SEED] [TESTS …]`. `--times` (10): as
 * many as the test run has, so often; `--from` (1001): the first seed, so that they are others than its. It takes from minutes to
 * hours, and is no part of the test run.
 */

ensurePackages()
await ensureRuntime()
const args = process.argv.slice(2)
const option = (name, usual) => {
  const at = args.indexOf(name)
  return at === -1 ? usual : Number(args.splice(at, 2)[1])
}
const times = option('--times', 10)
const from = option('--from', 1001)
if (!(times > 0) || !Number.isInteger(from)) {
  console.error('--times is a number above 0, --from a whole number')
  process.exit(2)
}

const made = ['src', 'test', 'packages'].flatMap((folder) =>
  readdirSync(join(root, folder), { recursive: true })
    .filter((file) => file.endsWith('.test.ts'))
    .map((file) => join(root, folder, file))
    .filter((file) => /from '.*\/seeds'/.test(readFileSync(file, 'utf8')))
    .map((file) => relative(root, file)),
)
const jest = ['--experimental-vm-modules', '--no-warnings', join(root, 'node_modules/jest/bin/jest.js')]
const { status } = spawnSync(process.execPath, [...jest, '--maxWorkers=2', ...(args.length > 0 ? args : made)], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, PAPER_COMPASS_TIMES: String(times), PAPER_COMPASS_FIRST_SEED: String(from) },
})
process.exit(status ?? 1)
