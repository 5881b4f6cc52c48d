import { randomStory } from '../bench/stories/random'
import { seededRandom } from '../src/core/base/random'
import { applyChange } from '../src/core/story/changes/apply'
import { linkStory } from '../src/core/story/link'
import { decisionsIn } from '../src/core/story/types'
import { REACHABLE } from '../src/core/survey/result'
import { Survey } from '../src/core/survey/survey'
import { SurveyReport } from '../src/session/survey-report'
import { spliced } from '../src/core/base/spliced'
import { beatOf } from '../src/core/base/address'
import { columnOf, sameFinding } from '../src/core/survey/findings/finding'
import { findingsOfBeat } from '../src/session/findings-of-beat'
import { randomChange } from './random-change'
import { seeds } from './seeds'
import { choicesOf } from '../src/core/story/linked-parts'

const SEEDS = 36
const EDITS = 8

test('what a page puts together from report to report is what each survey says, and every finding has its route', () => {
  let silent = 0
  let atRows = 0
  for (const seed of seeds(SEEDS)) {
    const random = seededRandom(seed)
    let story = randomStory(seed)
    let report: SurveyReport | undefined
    let told: Record<'beats' | 'choices', readonly string[]> = { beats: [], choices: [] }
    for (let edit = 0; edit < EDITS; edit += 1) {
      const linked = linkStory(story)
      const survey = new Survey(linked, { routes: 'none' })
      // cut short now and then
      while (!survey.advance(64)) if (random.chance(0.02)) break
      const { findings, ...rest } = survey.brief()
      const addresses = {
        beats: linked.inOrder.map(({ address }) => address),
        choices: choicesOf(linked).map(({ address }) => address),
      }
      const named = { beats: spliced(told.beats, addresses.beats), choices: spliced(told.choices, addresses.choices) }
      told = addresses
      const before = report
      report = new SurveyReport(
        { ...rest, findings: spliced(before?.findings ?? [], findings, sameFinding), addresses: named, took: 0 },
        before,
      )
      const result = survey.result()
      expect({
        seed,
        edit,
        findings: report.findings,
        unreached: { ...report.unreached, beats: report.unreached.beats, choices: report.unreached.choices },
      }).toEqual({ seed, edit, findings: result.findings, unreached: result.unreached })
      expect([report.complete, report.promises, report.undecided.choices, report.undecided.promises]).toEqual([
        result.complete,
        result.promises,
        result.undecided.choices,
        result.undecided.promises,
      ])
      for (const what of REACHABLE) {
        for (const address of Object.keys(result.reached[what])) expect(report.of(what, address)).toBe('reached')
        for (const address of result.unreached[what]) expect(report.of(what, address)).toBe('unreached')
        expect(report.of(what, 'nobody.knows')).toBe('waiting')
      }
      for (const { kind, key, decisions } of report.findings) {
        const route = survey.routeOf(kind, key)
        expect({ seed, edit, kind, key, decisions: route && decisionsIn(route) }).toEqual({
          seed,
          edit,
          kind,
          key,
          decisions,
        })
      }
      for (const { address, choices } of linked.inOrder) {
        const about = report.findings.filter(({ key }) => key.some((part) => beatOf(part) === address))
        expect([seed, edit, findingsOfBeat(report.findings, address)]).toEqual([seed, edit, about])
        const rows = about.map(({ kind, key }) => key[columnOf(kind, 'item', 'address')] ?? '')
        for (const row of new Set([...rows, ...choices.map((choice) => choice.address)])) {
          const here = row === address || row === '' ? [] : about.filter((_, at) => rows[at] === row)
          expect([seed, edit, row, report.at(row)]).toEqual([seed, edit, row, here])
          atRows += here.length
        }
      }
      if (before !== undefined && report.findings === before.findings) silent += 1
      const applied = applyChange(story, randomChange(story, random))
      if (applied.ok) story = applied.value.story
    }
  }
  expect(silent).toBeGreaterThan(SEEDS)
  expect(atRows).toBeGreaterThan(SEEDS)
})
