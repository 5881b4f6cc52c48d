import type { Slices } from '../../core/base/slices'
import type { FarCarried } from '../../core/survey/carry/carried'
import { carryOver } from '../../core/survey/carry/carry'
import { farSurvey } from '../../core/survey/far-survey'
import { findingsLeft } from '../../core/survey/findings/set-aside'
import { nameOfFinding } from '../../core/survey/findings/finding'
import { storyFacts, type StoryFacts } from '../../core/survey/questions/story-facts'
import { Survey } from '../../core/survey/survey'
import type { SimulationOptions } from '../../core/simulate/result'
import { playersSurvey } from '../../core/simulate/players-survey'
import { Simulation } from '../../core/simulate/simulation'
import { linkStory } from '../../core/story/link'
import type { Story } from '../../core/story/types'
import type { Finding } from '../../core/survey/findings/finding'

/** Playthroughs and states between two looks at the clock. */
const PLAYS = 50
const STATES = 512

/** A version that players have. */
export interface ReleasedText {
  readonly name: string
  readonly revision: number
  /** The story as it was then, as a document's text. */
  readonly text: string
}

/** What is to be done in a thread of its own; stories as their documents' text. */
export type Work =
  | { readonly kind: 'survey'; readonly story: string }
  | {
      readonly kind: 'simulate'
      readonly story: string
      readonly options: SimulationOptions
      readonly from: number
      readonly plays: number
    }
  | { readonly kind: 'carry'; readonly story: string; readonly version: ReleasedText }
  | { readonly kind: 'night'; readonly story: string; readonly versions: readonly ReleasedText[] }

/** What a night keeps of a story. */
export interface NightSurvey {
  readonly facts: StoryFacts
  readonly complete: boolean
  readonly findings: readonly { readonly name: string; readonly level: Finding['level']; readonly message: string }[]
  readonly stranded: readonly { readonly version: string; readonly findings: number }[]
}

export interface Working {
  /** How much is done, in playthroughs, states or versions. */
  done: number
}

/** Does it bit by bit; gives what it came to, as JSON text. Throws with the reason where it can't be done. */
export function* doWork(work: Work, stop: () => boolean, working: Working): Slices<string> {
  const story = linkStory(JSON.parse(work.story) as Story)
  switch (work.kind) {
    case 'survey':
      return JSON.stringify(farSurvey(yield* surveyed(new Survey(story), stop, working)))
    case 'simulate': {
      const made = Simulation.of(story, work.options, () => playersSurvey(story, stop), work.from)
      if (!made.ok) throw new Error(made.error)
      const simulation = made.value
      while (simulation.plays < work.plays) {
        simulation.advance(Math.min(PLAYS, work.plays - simulation.plays))
        working.done = simulation.plays
        yield
      }
      return JSON.stringify(simulation.tally())
    }
    case 'carry': {
      const { name, revision, text } = work.version
      const carried = yield* carryOver(linkStory(JSON.parse(text) as Story), story, stop)
      return JSON.stringify({ version: name, revision, carried } satisfies FarCarried)
    }
    case 'night': {
      const result = (yield* surveyed(new Survey(story, { routes: 'none' }), stop, { done: 0 })).result()
      const document = JSON.parse(work.story) as Story
      const stranded: { version: string; findings: number }[] = []
      for (const { name, text } of work.versions) {
        const { findings } = yield* carryOver(linkStory(JSON.parse(text) as Story), story, stop)
        stranded.push({ version: name, findings: findings.filter(({ level }) => level !== 'note').length })
      }
      return JSON.stringify({
        facts: storyFacts(document, result),
        complete: result.complete,
        findings: findingsLeft(result.findings, document.setAside).map((finding) => ({
          name: nameOfFinding(finding),
          level: finding.level,
          message: finding.message,
        })),
        stranded,
      } satisfies NightSurvey)
    }
  }
}

function* surveyed(survey: Survey, stop: () => boolean, working: Working): Slices<Survey> {
  while (!survey.advance(STATES) && !stop()) {
    working.done = survey.progress.states
    yield
  }
  working.done = survey.progress.states
  return survey
}
