import type { BeatSummary, FlowEdge } from './beat-summary'
import { STEP } from './flow'

/** All that a beat says about some variables, to be compared. */
export function flowAbout(
  { rest, onward, arrival, edges: ways }: BeatSummary,
  about: (variable: number) => boolean,
): string {
  const sets = ({ to, sets: variables }: FlowEdge) => [to, ...variables.filter(about)]
  return JSON.stringify([
    [rest, onward, arrival].map((steps) => stepsAbout(steps, about)),
    [ways.redirects, ways.choices, ways.onward].map((list) => list.map(sets)),
    ways.body.filter(about),
    about(ways.into) ? ways.into : -1,
  ])
}

/** Steps without those about other variables. */
function stepsAbout(steps: readonly number[], about: (variable: number) => boolean): number[] {
  const kept: number[] = []
  for (let at = 0; at < steps.length;) {
    const step = steps[at]!
    const inner = step === STEP.aside || step === STEP.variant || step === STEP.turns
    const operands = step === STEP.turns ? 2 : 1
    const next =
      at + (inner ? 1 + operands + steps[at + operands]! : step === STEP.effect ? 6 + steps[at + 5]! : LENGTHS[step]!)
    if (inner) {
      const within = stepsAbout(steps.slice(at + 1 + operands, next), about)
      // what is said of nothing on a way aside, such as a choice, adds nothing
      if (step !== STEP.aside || within.length > 0)
        kept.push(...steps.slice(at, at + operands), within.length, ...within)
    } else {
      const variables = step === STEP.effect ? [steps[at + 1]!, ...steps.slice(at + 6, next)] : [steps[at + 1]!]
      if (step === STEP.base || step === STEP.go || step === STEP.goBack || variables.some(about))
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
