import { create } from 'xmlbuilder2'
import { sayRoute } from '../core/formats/survey-text/write'
import type { Finding } from '../core/survey/findings/finding'
import type { Surveyed } from './surveyed'

/** Surveys as JUnit's XML: a suite a file, a test for each ending, stage and promise, and one for each failing finding. */
export function writeSurveyJunit(all: readonly Surveyed[], fails: (finding: Finding) => boolean): string {
  const root = create({ version: '1.0', encoding: 'UTF-8' }).ele('testsuites', { name: 'Paper Compass' })
  for (const { input, result } of all) {
    const failing = result.findings.filter(fails)
    const passing = [
      ...Object.keys(result.reached.endings).map((id) => `ending ${id} is reached`),
      ...Object.keys(result.reached.stages).map((id) => `stage ${id} is reached`),
      ...Object.entries(result.promises).flatMap(([id, { verdict }]) =>
        verdict === 'kept' ? [`promise ${id} is kept`] : [],
      ),
    ]
    const suite = root.ele('testsuite', {
      name: clean(input.name),
      tests: passing.length + failing.length,
      failures: failing.length,
      errors: 0,
      skipped: 0,
    })
    for (const name of passing) suite.ele('testcase', { classname: clean(input.name), name: clean(name) })
    for (const { kind, key, message, route } of failing) {
      const test = suite.ele('testcase', { classname: clean(input.name), name: clean(`${kind} ${key.join(' ')}`) })
      const failure = test.ele('failure', { message: clean(message), type: kind })
      if (route !== undefined && route.length > 0) failure.txt(clean(`Route: ${sayRoute(route)}`))
    }
  }
  return `${root.end({ prettyPrint: true })}\n`
}

/** XML 1.0 has no form for most control characters. */
function clean(text: string): string {
  return text.toWellFormed().replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '\ufffd')
}
