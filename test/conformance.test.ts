import { spawnSync } from 'node:child_process'
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { replay } from '../src/core/play/replay'
import { linkStory } from '../src/core/story/link'
import { readStory } from '../src/core/story/read'
import { decisionsIn, type RouteItem } from '../src/core/story/types'

/** Stories with the answers that the specification demands: ours, and the shared ones where they are at hand. */
const FOLDERS = [resolve('test/conformance'), resolve('../shared/conformance')].filter((folder) => existsSync(folder))
const SECOND = resolve('../shared/conformance/second')

interface Answer {
  readonly reached: Record<string, Record<string, { decisions: number; route: RouteItem[] }>>
  readonly unreached: Record<string, string[]>
  readonly promises: Record<string, { verdict: string; route?: RouteItem[] }>
  readonly findings: { kind: string; level: string; key: string[]; route?: RouteItem[] }[]
}

/** What is compared, one line an item, so that a difference names itself. */
function itemsOf(answer: Answer): string[] {
  const items: string[] = []
  for (const [what, found] of Object.entries(answer.reached)) {
    for (const [address, { decisions }] of Object.entries(found))
      items.push(`reached ${what} ${address} in ${decisions}`)
  }
  for (const [what, missing] of Object.entries(answer.unreached))
    for (const address of missing) items.push(`unreached ${what} ${address}`)
  for (const [id, { verdict }] of Object.entries(answer.promises)) items.push(`promise ${id} ${verdict}`)
  for (const { kind, level, key, route } of answer.findings) {
    // the part of a problem is compared without its number
    const shown = kind === 'problem' ? [key[0], key[1]!.replace(/\d+$/, '')] : key
    items.push(`${kind} ${level} ${shown.join(' | ')}${kind === 'dead-end' ? ` in ${decisionsIn(route!)}` : ''}`)
  }
  return items.sort()
}

for (const folder of [...FOLDERS, ...(existsSync(SECOND) ? [SECOND] : [])]) {
  const files = readdirSync(folder).filter((name) => name.endsWith('.story.json'))
  for (const file of files) {
    test(`conformance: ${file}`, () => {
      const path = join(folder, file)
      const expected = JSON.parse(readFileSync(path.replace('.story.json', '.expected.json'), 'utf8')) as Answer
      const run = spawnSync(
        process.execPath,
        [resolve('bin/paper-compass'), 'survey', path, '--format', 'json', '--routes', 'all'],
        {
          encoding: 'utf8',
        },
      )
      expect(run.stderr).toBe('')
      const answer = JSON.parse(run.stdout) as Answer
      expect(itemsOf(answer)).toEqual(itemsOf(expected))
      expect(run.status).toBe(expected.findings.some(({ level }) => level === 'error') ? 1 : 0)

      const read = readStory(readFileSync(path, 'utf8'))
      if (!read.ok) throw new Error('malformed')
      const story = linkStory(read.value)
      for (const [what, found] of Object.entries(answer.reached)) {
        for (const [address, { decisions, route }] of Object.entries(found)) {
          expect({ what, address, refused: replay(story, route).refused, length: decisionsIn(route) }).toEqual({
            what,
            address,
            refused: undefined,
            length: decisions,
          })
        }
      }
      for (const { kind, key, route } of answer.findings) {
        if (route !== undefined && kind !== 'route-broken')
          expect({ kind, key, refused: replay(story, route).refused }).toEqual({ kind, key, refused: undefined })
      }
    })
  }
}

const pairs = existsSync(SECOND) ? readdirSync(SECOND).filter((name) => name.endsWith('.carry.expected.json')) : []
for (const file of pairs) {
  test(`conformance: ${file}`, () => {
    const path = join(SECOND, file)
    const expected = JSON.parse(readFileSync(path, 'utf8')) as Pick<Answer, 'findings'>
    const [old, now] = ['old', 'new'].map((side) => path.replace('carry.expected.json', `${side}.story.json`))
    const run = spawnSync(process.execPath, [resolve('bin/paper-compass'), 'carry', old!, now!], { encoding: 'utf8' })
    expect(run.stderr).toBe('')
    const answer = JSON.parse(run.stdout) as Pick<Answer, 'findings'> & { complete: boolean }
    const items = ({ findings }: Pick<Answer, 'findings'>) =>
      findings
        .map(({ kind, level, key, route }) => `${kind} ${level} ${key.join(' | ')} in ${decisionsIn(route!)}`)
        .sort()
    expect(answer.complete).toBe(true)
    expect(items(answer)).toEqual(items(expected))
    expect(run.status).toBe(expected.findings.some(({ level }) => level === 'error') ? 1 : 0)
  })
}

test('there are conformance stories', () => {
  expect(FOLDERS.length).toBeGreaterThan(0)
})
