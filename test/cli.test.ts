import { spawnSync } from 'node:child_process'
import { readFileSync, mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import Ajv from 'ajv'
import Ajv2020 from 'ajv/dist/2020'
import addFormats from 'ajv-formats'
import type { Log } from 'sarif'
import { create } from 'xmlbuilder2'
import { openApi } from '../src/core/contract/openapi'
import { bundleJsonSchema } from '../src/core/formats/bundle/schema'
import { storyJsonSchema } from '../src/core/story/json-schema'
import { corridor } from '../bench/stories/families'
import { randomStory } from '../bench/stories/random'
import { SHORT_LIVED } from './short-lived'
import { shortStory } from './short-story'

const DRAFT = resolve('samples/first-draft.story.json')
const SAMPLE = resolve('samples/causeway.story.json')

function run(args: readonly string[], input?: string) {
  return spawnSync(process.execPath, [SHORT_LIVED, resolve('bin/paper-compass'), ...args], {
    encoding: 'utf8',
    input,
    maxBuffer: 2 ** 28,
  })
}

test('an output that is closed or full is a fault of its own, in one line, and no verdict', () => {
  const bash = (script: string) => spawnSync('bash', ['-c', script], { encoding: 'utf8' })
  // more than a pipe holds by itself
  const long = join(mkdtempSync(join(tmpdir(), 'paper-compass-cli-')), 'long.story.json')
  writeFileSync(long, JSON.stringify(corridor(300, 10)))
  expect(run(['survey', long, '--format', 'json', '--routes', 'all']).stdout.length).toBeGreaterThan(2 ** 20)
  const command = [
    process.execPath,
    resolve('bin/paper-compass'),
    'survey',
    long,
    '--format',
    'json',
    '--routes',
    'all',
  ]
    .map((part) => JSON.stringify(part))
    .join(' ')
  const piped = bash(`${command} | head -c 20 > /dev/null; echo "\${PIPESTATUS[0]}"`)
  expect(piped.stdout.trim()).toBe('70')
  expect(piped.stderr).toMatch(/^paper-compass: standard output was closed[^\n]*\n$/)
  const full = bash(`${command} > /dev/full`)
  expect(full.status).toBe(70)
  expect(full.stderr).toMatch(/^paper-compass: standard output: ENOSPC[^\n]*\n$/)
  expect(bash(`${command} --debug > /dev/full`).stderr).toContain('\n    at ')
})

test('exit codes: nothing wrong, errors, warnings only when strict, what can not be read', () => {
  const folder = mkdtempSync(join(tmpdir(), 'paper-compass-cli-'))
  const story = shortStory('Nothing is wrong', 'Here.')
  const fine = join(folder, 'fine.story.json')
  writeFileSync(fine, JSON.stringify(story))
  expect(run(['survey', fine]).status).toBe(0)
  expect(run(['survey', '--strict', fine]).status).toBe(0)
  expect(run(['survey', DRAFT]).status).toBe(1)
  story.scenes[0]!.beats.push({ id: 'nobody_comes', ending: 'home' })
  const warned = join(folder, 'warned.story.json')
  writeFileSync(warned, JSON.stringify(story))
  expect(run(['survey', warned]).status).toBe(0)
  expect(run(['survey', '--strict', warned]).status).toBe(1)
  expect(run(['survey', fine, warned]).stdout).toContain('nobody_comes')
  const poem = join(folder, 'poem.json')
  writeFileSync(poem, 'Once upon a time')
  const [empty, latin, truncated] = ['empty.json', 'latin.json', 'truncated.json'].map((name) => join(folder, name))
  writeFileSync(empty!, '')
  writeFileSync(latin!, Buffer.from([0x7b, 0x22, 0xe9, 0x22, 0x3a, 0x31, 0x7d]))
  writeFileSync(truncated!, readFileSync(SAMPLE, 'utf8').slice(0, 3000))
  for (const [args, reason] of [
    [['survey', join(folder, 'missing.json')], 'no such file'],
    [['survey', poem], 'not JSON'],
    [['survey', folder], 'a folder'],
    [['survey', empty!], 'not JSON'],
    [['survey', latin!], 'not UTF-8'],
    [['survey', truncated!], 'not JSON'],
    [['survey', fine, poem], 'poem.json'],
    [['sing', SAMPLE], 'unknown command'],
    [['simulate', latin!], 'not UTF-8'],
    [['survey', '--format', 'music', SAMPLE], 'Allowed choices'],
    [['survey', '--budget', 'soon', SAMPLE], 'number of seconds'],
    [['survey', '--memory', 'much', SAMPLE], 'number of megabytes'],
    [['survey', '--routes', 'some', SAMPLE], 'Allowed choices'],
    [['backup', '--data', folder], 'no database'],
    [['restore', '--data', folder, join(folder, 'no.gz')], 'no such file'],
    [['restore', '--data', folder, poem], 'can not be brought back'],
    [['survey'], 'missing required argument'],
  ] as const) {
    const failed = run(args)
    expect({ args, status: failed.status, stdout: failed.stdout }).toEqual({ args, status: 2, stdout: '' })
    expect(failed.stderr).toContain(reason)
  }
  expect(run(['--help']).status).toBe(0)
  expect(run(['--version']).stdout.trim()).toBe(
    (JSON.parse(readFileSync('package.json', 'utf8')) as { version: string }).version,
  )
})

test('standard input is read as "-", and a budget of nothing leaves what it did not look at undecided', () => {
  const text = readFileSync(SAMPLE, 'utf8')
  expect(JSON.parse(run(['survey', '--format', 'json', '-'], text).stdout)).toMatchObject({ complete: true })
  const cut = JSON.parse(run(['survey', '--format', 'json', '--budget', '0', '-'], text).stdout) as {
    complete: boolean
    undecided: { endings: string[] }
    unreached: { endings: string[] }
  }
  expect(cut.complete).toBe(false)
  expect(cut.unreached.endings).toEqual([])
})

test('SARIF names the line of each finding in the file', () => {
  const { stdout } = run(['survey', '--format', 'sarif', DRAFT])
  const log = JSON.parse(stdout) as Log
  const lines = readFileSync(DRAFT, 'utf8').split('\n')
  const lineOf = (text: string) => {
    const { region } = log.runs[0]!.results!.find(({ message }) => message.text!.startsWith(text))!.locations![0]!
      .physicalLocation!
    return lines.slice(region!.startLine! - 1, region!.startLine! + 3).join('\n')
  }
  expect(log.version).toBe('2.1.0')
  expect(lineOf('across:')).toContain('"id": "across"')
  expect(lineOf('mill.tamsin:')).toContain('"id": "tamsin"')
  expect(lineOf('quay.morning#line1.variant2')).toContain('"when": "toll_paid"')
  expect(lineOf('rope quay.morning.rope:')).toContain('"id": "rope"')
  expect(lineOf('pilot_name:')).toContain('"id": "pilot_name"')
})

test('SARIF is valid against its published schema, whatever the stories and however their files are called', () => {
  // a pattern of the schema's is no regular expression by the stricter rules of Unicode
  const validate = addFormats(new Ajv({ strict: false, unicodeRegExp: false })).compile(
    JSON.parse(readFileSync('test/schemas/sarif-2.1.0.json', 'utf8')) as object,
  )
  const folder = mkdtempSync(join(tmpdir(), 'paper-compass-sarif-'))
  const odd = join(folder, 'a ferry? #2, 100 % "ready".story.json')
  const stories = Array.from({ length: 30 }, (_, at) => join(folder, `${at}.json`))
  stories.forEach((path, at) => writeFileSync(path, JSON.stringify(randomStory(at + 1))))
  writeFileSync(odd, readFileSync(DRAFT))
  const log = JSON.parse(run(['survey', '--format', 'sarif', DRAFT, SAMPLE, odd, ...stories]).stdout) as Log
  expect(validate(log) ? [] : validate.errors).toEqual([])
  const { results } = log.runs[0]!
  expect(new Set(results!.map(({ ruleId }) => ruleId)).size).toBeGreaterThan(10)
  expect(
    results!.map(({ locations }) => fileURLToPath(locations![0]!.physicalLocation!.artifactLocation!.uri!)),
  ).toContain(odd)
  expect(validate(JSON.parse(run(['survey', '--format', 'sarif', '-'], readFileSync(DRAFT, 'utf8')).stdout))).toBe(true)
  expect(validate({ ...log, version: '2.0.0' })).toBe(false)
  expect(validate({ ...log, runs: [{ ...log.runs[0], results: [{ ...results![0], level: 'bad' }] }] })).toBe(false)
})

test('JUnit has a failure for each error and a test for what is reached', () => {
  const { stdout } = run(['survey', '--format', 'junit', DRAFT, SAMPLE])
  const { testsuites } = create(stdout).end({ format: 'object' }) as unknown as {
    testsuites: { testsuite: { '@failures': string; '@tests': string; testcase: unknown[] }[] }
  }
  expect(testsuites.testsuite.map((suite) => suite['@failures'])).toEqual(['10', '0'])
  for (const suite of testsuites.testsuite) expect(String(suite.testcase.length)).toBe(suite['@tests'])
})

test('the shipped JSON Schema is the one of the code, takes the samples and refuses what the reader refuses', () => {
  const kept = (name: string) => JSON.parse(readFileSync(`docs/${name}`, 'utf8')) as object
  expect(kept('bundle.schema.json')).toEqual(JSON.parse(JSON.stringify(bundleJsonSchema())))
  const { version } = JSON.parse(readFileSync('package.json', 'utf8')) as { version: string }
  expect(kept('openapi.json')).toEqual(JSON.parse(JSON.stringify(openApi(version))))
  const shipped = kept('story.schema.json')
  expect(shipped).toEqual(JSON.parse(JSON.stringify(storyJsonSchema())))
  const validate = new Ajv2020({ strict: false }).compile(shipped)
  for (const path of [DRAFT, SAMPLE]) expect(validate(JSON.parse(readFileSync(path, 'utf8')))).toBe(true)
  for (let seed = 1; seed <= 50; seed += 1) expect(validate(randomStory(seed))).toBe(true)
  expect(validate({ ...randomStory(1), scenes: [{ id: 'Quay', title: 'x', beats: [] }] })).toBe(false)
  expect(validate({ ...randomStory(1), paperCompass: 2 })).toBe(false)
  for (const id of ['quest_dig', 'person_odile', 'while', 'visits', 'story'])
    expect(validate({ ...randomStory(1), endings: [{ id, name: 'x' }] })).toBe(false)
})

test('simulated players: the same figures as text, JSON and CSV; what can not be played is said', () => {
  const json = JSON.parse(run(['simulate', SAMPLE, '--plays', '300', '--format', 'json']).stdout) as {
    plays: number
    endings: Record<string, { plays: number; share: number }>
  }
  expect(Object.values(json.endings).reduce((sum, { plays }) => sum + plays, 0)).toBe(300)
  const text = run(['simulate', SAMPLE, '--plays', '300']).stdout
  const csv = run(['simulate', SAMPLE, '--plays', '300', '--format', 'csv']).stdout
  for (const [id, { plays, share }] of Object.entries(json.endings)) {
    expect(text).toContain(`${(share * 100).toFixed(1)} % ${id}`)
    expect(csv).toContain(`\nending,${id},,${plays},${Number(share.toFixed(4))}`)
  }
  expect(run(['simulate', SAMPLE, '--plays', '300', '--seed', '2', '--format', 'csv']).stdout).not.toBe(csv)
  const bound = JSON.parse(
    run(['simulate', SAMPLE, '--plays', '40', '--player', 'ending:debt', '--format', 'json']).stdout,
  ) as typeof json
  expect(bound.endings.debt!.plays).toBe(40)
  for (const [args, reason] of [
    [['simulate', DRAFT, '--player', 'ending:across'], 'no route is known'],
    [['simulate', DRAFT, '--player', 'ending:nowhere'], 'has no ending "nowhere"'],
    [['simulate', SAMPLE, '--given', 'nobody=1'], 'there is no ledger entry "nobody"'],
    [['simulate', SAMPLE, '--given', 'x'], 'expected an entry, =, and its values'],
    [['simulate', SAMPLE, '--player', 'greedy'], 'expected random, curious or ending:ID'],
    [['simulate', SAMPLE, '--plays', '0'], 'at least 1'],
    [['simulate', 'gone.story.json'], 'no such file'],
  ] as const) {
    const failed = run(args)
    expect({ args, status: failed.status, stdout: failed.stdout }).toEqual({ args, status: 2, stdout: '' })
    expect(failed.stderr).toContain(reason)
  }
})

test('routes are given to everything, to what matters, or to nothing but with their lengths', () => {
  const ask = (routes: string) =>
    JSON.parse(run(['survey', SAMPLE, '--format', 'json', '--routes', routes]).stdout) as {
      reached: Record<string, Record<string, { decisions: number; route?: unknown[] }>>
      findings: { route?: unknown[]; decisions?: number }[]
    }
  const [all, ends, none] = [ask('all'), ask('ends'), ask('none')]
  for (const [what, found] of Object.entries(all.reached)) {
    for (const [address, { decisions, route }] of Object.entries(found)) {
      expect(route).toHaveLength(decisions)
      const isEnd = what === 'endings' || what === 'stages'
      expect(ends.reached[what]![address]).toEqual(isEnd ? { decisions, route } : { decisions })
      expect(none.reached[what]![address]).toEqual({ decisions })
    }
  }
  expect(none.findings.every(({ route }) => route === undefined)).toBe(true)
  expect(JSON.parse(run(['survey', SAMPLE, '--format', 'json']).stdout)).toEqual(ends)
})

/** A story whose first line, first gate or whole text is what is tried. */
function tried({ text = 'Here.', when = 'f', extra = {} }: { text?: string; when?: string; extra?: object }): string {
  return JSON.stringify({
    paperCompass: 1,
    title: 'Limits',
    language: 'en',
    start: 'a.b',
    ledger: [
      { id: 'f', kind: 'flag', initial: true },
      { id: 'c', kind: 'counter', min: 0, max: 9 },
    ],
    endings: [{ id: 'e', name: 'End' }],
    scenes: [
      {
        id: 'a',
        title: 'A',
        beats: [
          { id: 'b', lines: [{ text }], choices: [{ id: 'x', text: 'On', when, to: 'a.z' }] },
          { id: 'z', ending: 'e' },
        ],
      },
    ],
    ...extra,
  })
}

test('what is too long, too deep or can not be shown is a problem at its part; long rows of || and && are none', () => {
  const forms = (depth: number) => `${'{f, select, other {'.repeat(depth)}x${'}}'.repeat(depth)}`
  for (const [part, story] of [
    ['when', { when: Array(2400).fill('c').join('+').concat(' > 3') }],
    ['when', { when: Array(2400).fill('f').join('==') }],
    ['when', { when: `${'('.repeat(3000)}f${')'.repeat(3000)}` }],
    ['when', { when: `${'!'.repeat(3000)}f` }],
    ['when', { when: Array(9000).fill('f').join('||') }],
    ['text', { text: '{'.repeat(8_000_000) }],
    ['text', { text: forms(7000) }],
    ['text', { text: forms(80) }],
    ['text', { text: '{c, number, currency}' }],
  ] as const) {
    const answer = run(['survey', '--format', 'json', '-'], tried(story))
    const { findings } = JSON.parse(answer.stdout) as { findings: { kind: string; key: string[] }[] }
    expect({ status: answer.status, stderr: answer.stderr }).toEqual({ status: 1, stderr: '' })
    expect(findings.filter(({ kind }) => kind === 'problem').map(({ key }) => key[1])).toEqual([part])
  }
  for (const row of [Array(2400).fill('f').join(' || '), Array(2400).fill('f').join(' && ')])
    expect(run(['survey', '-'], tried({ when: row })).status).toBe(0)
  // shown as written where it can't be shown otherwise
  expect(run(['simulate', '--plays', '3', '-'], tried({ text: '{c, number, currency}' })).status).toBe(0)
  let deep: unknown = 0
  for (let depth = 0; depth < 1000; depth += 1) deep = [deep]
  expect(run(['survey', '-'], tried({ extra: { deep } }))).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('nested more than'),
  })
})

test('a large file of another kind is refused with the first of what is wrong', () => {
  const text = `{"paperCompass":1,"title":"t","language":"en","start":"","scenes":[${Array(300_000).fill('{"id":1}').join(',')}]}`
  const { status, stderr } = run(['survey', '-'], text)
  expect(status).toBe(2)
  expect(stderr.trim().split('\n')).toHaveLength(11)
})

test('what is undecided within the budget or the memory fails only when strict, with a code of its own', () => {
  const text = readFileSync(SAMPLE, 'utf8')
  for (const bound of ['--budget', '--memory']) {
    expect(run(['survey', bound, '0', '-'], text).status).toBe(0)
    expect(run(['survey', bound, '0', '--strict', '-'], text).status).toBe(3)
    const bound2 = run(['simulate', bound, '0', '--player', 'ending:debt', '-'], text)
    expect({ status: bound2.status, stdout: bound2.stdout }).toEqual({ status: 3, stdout: '' })
    expect(bound2.stderr).toContain('undecided')
  }
})

test('a bundle and a page are written, what is on no route is left out by name, and bad input is told', () => {
  const folder = mkdtempSync(join(tmpdir(), 'paper-compass-build-'))
  const bundle = run(['bundle', DRAFT, '--without', 'unreached'])
  expect(bundle.status).toBe(0)
  expect(bundle.stderr).toContain('left out: flats.far')
  const { beats } = JSON.parse(bundle.stdout) as { beats: { id: string }[] }
  expect(beats.map(({ id }) => id)).not.toContain('flats.far')
  const page = join(folder, 'page.html')
  expect(run(['build', SAMPLE, '-o', page]).status).toBe(0)
  const text = readFileSync(page, 'utf8')
  expect(text).toMatch(/^<!doctype html>/)
  expect(text.length).toBeLessThan(500_000)
  expect(run(['build', join(folder, 'nothing.json')])).toMatchObject({ status: 2, stdout: '' })
  expect(run(['bundle', SAMPLE, '-o', join(folder, 'no', 'such', 'folder.json')])).toMatchObject({
    status: 2,
    stdout: '',
  })
  expect(run(['bundle', SAMPLE, '--without', 'notes']).status).toBe(2)
})

test('export and import: every form that goes out comes back, and what can not is told with code 2', () => {
  const folder = mkdtempSync(join(tmpdir(), 'paper-compass-cli-'))
  const at = (name: string) => join(folder, name)
  const done = (args: readonly string[]) => {
    const { status, stderr } = run(args)
    expect({ args, status, stderr }).toMatchObject({ args, status: 0 })
    return stderr
  }
  const own = JSON.parse(readFileSync(SAMPLE, 'utf8')) as object
  // texts out and in: nothing is changed by it
  for (const form of ['xliff', 'po', 'xlsx', 'csv']) {
    const ending = form === 'xliff' ? 'xlf' : form
    done(['export', SAMPLE, '--format', form, '--language', 'de', '-o', at(`de.${ending}`)])
    expect(done(['import', at(`de.${ending}`), '--into', SAMPLE, '--language', 'de', '-o', at('same.json')])).toMatch(
      /\d+ as they are/,
    )
    expect(JSON.parse(readFileSync(at('same.json'), 'utf8'))).toEqual(own)
  }
  // a copy that was edited
  done(['export', SAMPLE, '--format', 'markdown', '-o', at('copy.md')])
  const copy = readFileSync(at('copy.md'), 'utf8')
  writeFileSync(at('copy.md'), copy.replace('The poles were straighter then.', 'The poles stood straight then.'))
  expect(done(['import', at('copy.md'), '--into', SAMPLE, '--language', 'en', '-o', at('read.json')])).toContain(
    '1 changed',
  )
  expect(readFileSync(at('read.json'), 'utf8')).toContain('The poles stood straight then.')
  // a document becomes a story of its own
  done(['export', SAMPLE, '--format', 'docx', '-o', at('copy.docx')])
  done(['import', at('copy.docx'), '-o', at('made.json')])
  const made = JSON.parse(readFileSync(at('made.json'), 'utf8')) as { title: string; scenes: { title: string }[] }
  const scenes = (story: object) => (story as typeof made).scenes.map(({ title }) => title)
  expect([made.title, scenes(made)]).toEqual([(own as typeof made).title, scenes(own)])
  // a route, and voices
  expect(run(['export', SAMPLE, '--format', 'fountain', '--ending', 'across']).stdout).toContain('> Across in time <')
  done(['export', SAMPLE, '--format', 'xlsx', '--voices', '-o', at('voices.xlsx')])
  const chart = run(['export', SAMPLE, '--format', 'scxml'])
  expect(chart.stdout).toContain('<transition event="choice.')
  expect(chart.stderr).toContain('are logged as they are written')
  for (const [args, why] of [
    [['export', SAMPLE, '--format', 'po'], 'say of which --language'],
    [['export', SAMPLE, '--format', 'docx', '--scene', 'gone'], 'there is no scene "gone"'],
    [['export', SAMPLE, '--format', 'docx', '--route', 'gone'], 'there is no kept route "gone"'],
    [['export', SAMPLE, '--format', 'docx', '--ending', 'gone'], 'no route to an ending "gone" is known'],
    [['export', SAMPLE, '--format', 'xlsx', '--open'], 'add --voices'],
    [['export', SAMPLE, '--format', 'po', '--voices'], 'no recording script is written as po'],
    [['export', SAMPLE, '--format', 'papyrus'], 'Allowed choices'],
    [['import', at('gone.docx')], 'no such file'],
    [['import', at('copy.docx'), '--format', 'xlsx'], 'this is no XLSX file'],
    [['import', at('de.po'), '--language', 'de'], '--into names it'],
    [['import', at('de.po')], '--format names one'],
  ] as const) {
    const { status, stderr } = run(args)
    expect({ args, status, stderr }).toEqual({ args, status: 2, stderr: expect.stringContaining(why) })
  }
})
