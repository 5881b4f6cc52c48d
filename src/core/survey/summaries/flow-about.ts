import type { Digest, Way } from './beat-summary'
import { STEP } from './flow'

/** All that a beat says about some things, to be compared. */
export function saying({ rest, onward, arrival, ways }: Digest, about: (thing: number) => boolean): string {
  const sets = ({ to, sets: things }: Way) => [to, ...things.filter(about)]
  return JSON.stringify([
    [rest, onward, arrival].map((steps) => stepsAbout(steps, about)),
    [ways.redirects, ways.choices, ways.onward].map((list) => list.map(sets)),
    ways.body.filter(about),
    about(ways.into) ? ways.into : -1,
  ])
}

/** Steps without those about other things. */
function stepsAbout(steps: readonly number[], about: (thing: number) => boolean): number[] {
  const kept: number[] = []
  for (let at = 0; at < steps.length;) {
    const step = steps[at]!
    const inner = step === STEP.aside || step === STEP.variant
    const next = at + (inner ? 2 + steps[at + 1]! : step === STEP.effect ? 6 + steps[at + 5]! : LENGTHS[step]!)
    if (inner) {
      const within = stepsAbout(steps.slice(at + 2, next), about)
      kept.push(step, within.length, ...within)
    } else {
      const things = step === STEP.effect ? [steps[at + 1]!, ...steps.slice(at + 6, next)] : [steps[at + 1]!]
      if (step === STEP.base || step === STEP.go || step === STEP.goBack || things.some(about))
        kept.push(...steps.slice(at, next))
    }
    at = next
  }
  return kept
}

/** Numbers of a step with its operands, for those that always have as many. */
const LENGTHS: Readonly<Record<number, number>> = {
  [STEP.read]: 2,
  [STEP.shown]: 2,
  [STEP.kill]: 2,
  [STEP.stage]: 4,
  [STEP.base]: 1,
  [STEP.go]: 2,
  [STEP.goBack]: 1,
}
