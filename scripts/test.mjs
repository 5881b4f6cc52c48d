import { spawn } from 'node:child_process'
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statfsSync } from 'node:fs'
import { freemem, getPriority, setPriority } from 'node:os'
import { join } from 'node:path'
import { ensurePackages, root } from './ensure.mjs'
import { ensureCli } from './build-cli.mjs'
import { ensureRuntime } from './build-runtime.mjs'
import { ensurePage } from './build-page.mjs'
import { ensureServer } from './build-server.mjs'

process.env.NEXT_TELEMETRY_DISABLED = '1'

/** Chromium without a window of its own: a browser with one draws itself too, and takes a third longer. */
const CHROMIUM = '/usr/bin/chromium-headless-shell'
// not where Playwright keeps its own results, which it clears
const results = join(root, 'dist', 'test')
const bin = (name) => join(root, 'node_modules', '.bin', name)
const node = (...args) => [process.execPath, args]

/** Each version of PostgreSQL has a folder of its own. */
const POSTGRES = '/usr/lib/postgresql'

/** What users have and the tests need, from Debian: the program, the package it is in, and what it is for. */
const PROGRAMS = [
  [CHROMIUM, 'chromium-headless-shell', 'the browser tests'],
  ['/usr/share/fonts/truetype/liberation', 'fonts-liberation', 'the browser tests'],
  ['/usr/bin/dot', 'graphviz', 'the test that draws exported graphs'],
  ['/usr/bin/msgfmt', 'gettext', 'the test of texts for translators'],
  ['/usr/bin/xmllint', 'libxml2-utils', 'the tests of XML against schemas'],
  ['/usr/bin/lua5.1', 'lua5.1', 'the tests of the port for Lua'],
  ['/usr/bin/lua5.4', 'lua5.4', 'the tests of the port for Lua'],
  ['/usr/bin/luajit', 'luajit', 'the tests of the port for Lua'],
  ['/usr/bin/mcs', 'mono-mcs', 'the tests of the port for C#'],
  ['/usr/bin/mono', 'mono-runtime', 'the tests of the port for C#'],
  [`${POSTGRES}/*/bin/postgres`, 'postgresql', 'the tests of stories on a server'],
]

function isThere(path) {
  const [before, after] = path.split('*')
  if (after === undefined) return existsSync(path)
  return existsSync(before) && readdirSync(before).some((name) => existsSync(join(before, name, after)))
}

/** Installs what is missing, beside whatever else is done; gives what could not be, in a sentence each. */
async function ensurePrograms() {
  const missing = PROGRAMS.filter(([path]) => !isThere(path))
  if (missing.length === 0) return []
  const packages = missing.map(([, name]) => name)
  console.log(`Installing ${packages.join(', ')} …`)
  const apt = process.getuid?.() === 0 ? 'apt-get' : 'sudo apt-get'
  // what they only recommend, printers and desktops, is most of it, and nothing here asks for that
  const install = `${apt} install -y -qq --no-install-recommends ${packages.join(' ')}`
  // in one command, as nothing is heard while packages are installed
  const { ok, said } = await runAll([['sh', ['-c', `${apt} update -qq && ${install}`]]]).catch((error) => ({
    ok: false,
    said: error.message,
  }))
  if (ok) return []
  console.error(said.trimEnd())
  return missing.map(([path, name, what]) => `${name} could not be installed; ${what} need it at ${path}`)
}

/** Where Linux keeps files in memory; what the tests write there at the same time takes far less than this. */
const IN_MEMORY = '/dev/shm'
const FOLDERS_MOST = 2 * 2 ** 30

/** Puts the folders of tests into memory, where there is room: half of what the tests of databases take is copying and writing files. */
function keepInMemory() {
  if (process.env.TMPDIR !== undefined || !existsSync(IN_MEMORY)) return
  const { bavail, bsize } = statfsSync(IN_MEMORY)
  if (Math.min(bavail * bsize, freemem()) < 2 * FOLDERS_MOST) return
  const folder = mkdtempSync(join(IN_MEMORY, 'paper-compass-'))
  // the server runs as somebody else
  chmodSync(folder, 0o755)
  process.env.TMPDIR = folder
  process.on('exit', () => rmSync(folder, { recursive: true, force: true }))
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => process.exit(1))
}

/** What waits for nobody leaves the processors to the browser, in which a moment can be too long. */
const BEHIND = 10

/**
 * Code is made fast once it has run for longer: most of it runs for seconds, and making it fast takes the processors as well. What
 * is made and thrown away within a test is let go in larger portions.
 */
const FOR_SECONDS = [
  '--interrupt-budget=600000',
  '--liftoff-only',
  '--min-semi-space-size=64',
  '--max-semi-space-size=64',
]

/** Runs programs one after another up to the first that fails; gives what they said. */
async function runAll(commands, env = {}, priority = 0) {
  let said = ''
  for (const [command, args] of commands) {
    const child = spawn(command, args, {
      cwd: root,
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    if (child.pid !== undefined && priority > getPriority()) setPriority(child.pid, priority)
    child.stdout.on('data', (chunk) => (said += chunk))
    child.stderr.on('data', (chunk) => (said += chunk))
    const status = await new Promise((done, fail) => child.on('close', done).on('error', fail))
    if (status !== 0) return { ok: false, said }
  }
  return { ok: true, said }
}

/** Runs one part and prints all that it says once it is over; those after it run all the same, so that one run tells everything. */
async function part(name, commands, env = {}, priority = 0) {
  const start = Date.now()
  console.log(`── ${name} …`)
  const { ok, said } = await runAll(commands, env, priority).catch((error) => ({ ok: false, said: error.message }))
  const seconds = Math.round((Date.now() - start) / 1000)
  console.log(`\n${said.trimEnd()}\n── ${name}: ${ok ? 'passed' : 'FAILED'} in ${seconds} s\n`)
  return ok
}

function counted(file, read) {
  const path = join(results, file)
  return existsSync(path) ? read(JSON.parse(readFileSync(path, 'utf8'))) : [0, 0]
}

// begun first: it goes on by itself while packages are installed and the application is built
const programs = ensurePrograms()
ensurePackages()
keepInMemory()
rmSync(results, { recursive: true, force: true })
mkdirSync(results, { recursive: true })
const routes = await part('types of routes', [[bin('next'), ['typegen']]])

/** A part that needs what users have; it fails where that could not be installed. */
async function partWithPrograms(name, ...rest) {
  const troubles = await programs
  if (troubles.length === 0) return part(name, ...rest)
  console.error(`── ${name}: FAILED, for\n${troubles.join('\n')}\n`)
  return false
}

/** What both lanes need beside the packages. */
async function makeBundles() {
  await ensureCli()
  await ensureServer()
  await ensureRuntime()
  await ensurePage()
}

// Two lanes beside each other: most of the browser's time is waiting.
const made = makeBundles()
const built = made.then(() => part('build', [node(join(root, 'scripts', 'build.mjs'))]))
const building = async () => [
  await built,
  await partWithPrograms('browser', [[bin('playwright'), ['test', '--reporter=list,json']]], {
    PLAYWRIGHT_JSON_OUTPUT_NAME: join(results, 'browser.json'),
  }),
]
const checking = async () => [
  await part('lint', [['npm', ['run', '--silent', 'lint']]], {}, BEHIND),
  // the build writes the types of routes anew
  await built.then(() => part('types', [[bin('tsgo'), ['--noEmit']]], {}, BEHIND)),
  await partWithPrograms(
    'unit and conformance',
    [
      node(
        '--experimental-vm-modules',
        '--no-warnings',
        ...FOR_SECONDS,
        join(root, 'node_modules/jest/bin/jest.js'),
        '--json',
        `--outputFile=${join(results, 'unit.json')}`,
        '--maxWorkers=2',
      ),
    ],
    {},
    BEHIND,
  ),
]
const lanes = [building(), checking()]
// beside what is left of the longer lane
const fuzzing = Promise.race(lanes).then(() =>
  part('fuzzing', [node(join(root, 'scripts', 'fuzz.mjs'), '--minutes', '0.25', '--seed', '1')]),
)
const parts = [routes, ...(await Promise.all([...lanes, fuzzing])).flat()]

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
