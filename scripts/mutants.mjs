import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ensurePackages, root, run } from './ensure.mjs'

/**
 * Changes the code in small ways and looks whether a test notices: `npm run mutants -- FOLDER_OR_FILE [-- TESTS …]`,
 * or without a name on what differs from the last commit. TESTS are the tests that are to notice (those beside the
 * code otherwise). It takes from minutes to hours, and is no part of the test run. `--lines N` changes only so many
 * lines, drawn with `--seed S` (1): an estimate in minutes.
 */

ensurePackages()
// what only this needs is a tenth of all files of packages, so it is installed here
const own = join(root, 'scripts', 'mutants')
if (!existsSync(join(own, 'node_modules'))) {
  const status = run('npm', ['ci', '--prefix', own, '--legacy-peer-deps', '--no-audit', '--no-fund'])
  if (status !== 0) process.exit(status)
}
const args = process.argv.slice(2)
const option = (name) => {
  const at = args.indexOf(name)
  return at === -1 ? undefined : Number(args.splice(at, 2)[1])
}
const lines = option('--lines')
const seed = option('--seed') ?? 1
const split = args.indexOf('--')
const [named, tests] = split === -1 ? [args, []] : [args.slice(0, split), args.slice(split + 1)]
const changed = () =>
  spawnSync('git', ['diff', '--name-only', '--diff-filter=d', 'HEAD', '--', 'src'], { cwd: root, encoding: 'utf8' })
    .stdout.split('\n')
    .filter((file) => /\.tsx?$/.test(file) && !file.includes('.test.'))
const places = named.length > 0 ? named : changed()
if (places.length === 0) {
  console.log('Nothing was changed since the last commit; name a folder.')
  process.exit(0)
}
const isFile = (place) => /\.\w+$/.test(place)
const folderOf = (place) => (isFile(place) ? place.replace(/\/[^/]*$/, '') : place)
const isCode = (file) => /\.tsx?$/.test(file) && !/\.(test|d)\.tsx?$/.test(file)
const filesIn = (place) =>
  isFile(place)
    ? [place]
    : readdirSync(join(root, place), { recursive: true })
        .filter(isCode)
        .map((file) => `${place}/${file}`)

/** Lines of all files, drawn at random (a linear congruential generator: Park, Miller, 1988). */
function drawn(count) {
  let state = seed
  const random = () => (state = (state * 48271) % 2147483647) / 2147483647
  const all = places.flatMap(filesIn).flatMap((file) =>
    readFileSync(join(root, file), 'utf8')
      .split('\n')
      .flatMap((line, at) => (/^\s*(import|export \*|\/?\*|\/\/|$)/.test(line) ? [] : [`${file}:${at + 1}-${at + 1}`])),
  )
  return Array.from({ length: Math.min(count, all.length) }, () => all.splice(Math.floor(random() * all.length), 1)[0])
}

const wanted = tests.length > 0 ? tests : [...new Set(places.map(folderOf))]
const config = {
  testRunner: 'jest',
  testRunnerNodeArgs: ['--experimental-vm-modules', '--no-warnings'],
  jest: {
    enableFindRelatedTests: false,
    config: {
      testEnvironment: 'node',
      extensionsToTreatAsEsm: ['.ts', '.tsx'],
      testMatch: wanted.map((place) => `**/${place}${isFile(place) ? '' : '/**/*.test.ts'}`),
      transform: {
        '^.+\\.tsx?$': [
          '@swc/jest',
          { jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: true } }, module: { type: 'es6' } },
        ],
      },
    },
  },
  mutate:
    lines === undefined
      ? places.flatMap((place) => (isFile(place) ? [place] : [`${place}/**/*.{ts,tsx}`, `!${place}/**/*.test.ts`]))
      : drawn(lines),
  coverageAnalysis: 'off',
  reporters: ['clear-text'],
  clearTextReporter: { allowColor: false, logTests: false },
  tempDirName: 'dist/mutants',
  concurrency: 2,
  ignorePatterns: ['.next', 'dist', 'data', 'docs', '.git'],
  allowConsoleColors: false,
}
const file = join(root, 'dist', 'mutants.json')
mkdirSync(join(root, 'dist'), { recursive: true })
writeFileSync(file, JSON.stringify(config, null, 2))
process.exit(run(join(own, 'node_modules', '.bin', 'stryker'), ['run', file]))
