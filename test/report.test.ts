import { randomStory } from '../bench/stories/random'
import { seededRandom } from '../src/core/base/random'
import { applyChange } from '../src/core/story/changes/apply'
import { linkStory } from '../src/core/story/link'
import { decisionsIn } from '../src/core/story/types'
import { REACHABLE } from '../src/core/survey/result'
import { Survey } from '../src/core/survey/survey'
import { SurveyReport } from '../src/session/survey-report'
import { spliced } from '../src/workers/spliced'
import { randomChange } from './random-change'
import { seeds } from './seeds'
import { choicesOf } from '../src/core/story/linked-parts'

const SEEDS = 36
const EDITS = 8

test('what a page puts together from report to report is what each survey says, and every finding has its route', () => {
  let silent = 0
  for (const seed of seeds(SEEDS)) {
    const random = seededRandom(seed)
    let story = randomStory(seed)
    let report: SurveyReport | undefined
    let names = ''
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
      const isNamed = JSON.stringify(addresses) === names
      names = JSON.stringify(addresses)
      const before = report
      report = new SurveyReport(
        { ...rest, findings: spliced(before?.findings ?? [], findings), ...(isNamed ? {} : { addresses }), took: 0 },
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
      if (before !== undefined && report.findings === before.findings) silent += 1
      const applied = applyChange(story, randomChange(story, random))
      if (applied.ok) story = applied.value.story
    }
  }
  expect(silent).toBeGreaterThan(SEEDS)
})
