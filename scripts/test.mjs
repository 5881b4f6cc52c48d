import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { ensurePackages, root, run } from './ensure.mjs'
import { ensureBuild } from './start.mjs'
import { ensureCli } from './build-cli.mjs'

process.env.NEXT_TELEMETRY_DISABLED = '1'

const CHROMIUM = '/usr/bin/chromium'
// not where Playwright keeps its own results, which it clears
const results = join(root, 'dist', 'test')
const bin = (name) => join(root, 'node_modules', '.bin', name)

function ensureChromium() {
  if (existsSync(CHROMIUM)) return
  console.log('Installing Chromium …')
  const [command, ...before] = process.getuid?.() === 0 ? ['apt-get'] : ['sudo', 'apt-get']
  const apt = (...args) => run(command, [...before, ...args])
  if (apt('update', '-qq') !== 0 || apt('install', '-y', '-qq', 'chromium') !== 0) {
    throw new Error('Chromium could not be installed; the browser tests need it at /usr/bin/chromium')
  }
}

/** Runs one part; the parts after it run all the same, so that one run tells everything. */
function part(name, work) {
  const start = Date.now()
  console.log(`\n── ${name}`)
  let ok = false
  try {
    ok = work() === 0
  } catch (error) {
    console.error(error.message)
  }
  console.log(`── ${name}: ${ok ? 'passed' : 'FAILED'} in ${Math.round((Date.now() - start) / 1000)} s`)
  return ok
}

function counted(file, read) {
  const path = join(results, file)
  return existsSync(path) ? read(JSON.parse(readFileSync(path, 'utf8'))) : [0, 0]
}

ensurePackages()
ensureChromium()
rmSync(results, { recursive: true, force: true })
mkdirSync(results, { recursive: true })

const jest = [
  '--experimental-vm-modules',
  '--no-warnings',
  join(root, 'node_modules/jest/bin/jest.js'),
  '--json',
  `--outputFile=${join(results, 'unit.json')}`,
]
await ensureCli()
const parts = [
  part('lint', () => run(bin('eslint'), ['.', '--max-warnings', '0'])),
  part('types', () => run(bin('next'), ['typegen']) || run(bin('tsc'), ['--noEmit'])),
  part('unit and conformance', () => run(process.execPath, jest)),
  part('build', () => {
    ensureBuild()
    return 0
  }),
  part('browser', () =>
    run(bin('playwright'), ['test', '--reporter=list,json'], {
      env: { ...process.env, PLAYWRIGHT_JSON_OUTPUT_NAME: join(results, 'browser.json') },
    }),
  ),
]

const [unitPassed, unitFailed] = counted(
  'unit.json',
  ({ numPassedTests, numFailedTests, numRuntimeErrorTestSuites }) => [
    numPassedTests,
    numFailedTests + numRuntimeErrorTestSuites,
  ],
)
const [browserPassed, browserFailed] = counted('browser.json', ({ stats }) => [
  stats.expected,
  stats.unexpected + stats.flaky,
])
const others = parts.filter((ok) => !ok).length
const failed = Math.max(unitFailed + browserFailed, others > 0 ? 1 : 0)
console.log(`\n${unitPassed + browserPassed} passed, ${failed} failed`)
process.exit(others > 0 || failed > 0 || unitPassed === 0 || browserPassed === 0 ? 1 : 0)
