import type { Slices } from '../core/base/slices'
import { chartOf } from '../core/atlas/chart'
import { applyChange } from '../core/story/changes/apply'
import { playThrough } from '../core/play/transcript'
import { linkStory } from '../core/story/link'
import type { LinkedStory } from '../core/story/linked'
import type { Story } from '../core/story/types'
import { usesIn } from '../core/story/uses'
import { carryOver } from '../core/survey/carry/carry'
import { surveyDifference } from '../core/survey/questions/difference'
import { entryValues, valuesSet } from '../core/survey/questions/entry-values'
import { findRoute } from '../core/survey/questions/find-route'
import { provenMend } from '../core/survey/questions/mends'
import { pointsOfNoReturn } from '../core/survey/questions/no-return'
import { callSheet } from '../core/survey/questions/quests/call-sheet'
import { meetings } from '../core/survey/questions/quests/meetings'
import { outlook } from '../core/survey/questions/outlook'
import { questFacts } from '../core/survey/questions/quests/quest-facts'
import { readingList } from '../core/survey/questions/reading-list'
import { roadFacts } from '../core/survey/questions/road-facts'
import { whyNot } from '../core/survey/questions/why-not'
import type { SurveyResult } from '../core/survey/result'
import { surveyInSlices, type Survey } from '../core/survey/survey'
import type { Answer, Ask, Compared, QuestionName } from './questions'

/** What nobody asked for takes no longer, in milliseconds. */
const ASIDE_MS = 5_000
/** What somebody asked for may take as long as a survey; it is told of meanwhile, and can be stopped. */
const ASKED_MS = 30_000
/** What becomes of saves is looked at after every edit once a version is out. */
const CARRY_MS = 10_000
/** Routes to what is reached are told when they are asked for. */
export const ON_REQUEST = { routes: 'none' } as const

/** What a question is answered from. */
export interface Asked {
  readonly story: Story
  readonly linked: LinkedStory
  /** The finished survey of the story. */
  readonly survey: Survey
  /** All that it says. */
  result(): SurveyResult
  /** Says when so many milliseconds are over. */
  within(limit: number): () => boolean
}

interface Answering<N extends QuestionName> {
  /** `story`: about the story as it is now, so an edit asks anew; `itself`: about nothing but what it brings. */
  readonly about: 'story' | 'itself'
  /** It can take seconds: whatever else waits is answered before it is begun. */
  readonly isLong?: true
  readonly work: (ask: Ask<N>, of: Asked) => Slices<Answer<N>>
}

/** About the story's roads alone: answered at once, whether the survey goes on or not. */
interface EarlyAnswering<N extends QuestionName> {
  readonly about: 'roads'
  readonly work: (ask: Ask<N>, of: Pick<Asked, 'linked'>) => Slices<Answer<N>>
}

type Early = 'chart-by-roads'

export const ANSWERS: { readonly [N in Exclude<QuestionName, Early>]: Answering<N> } & {
  readonly [N in Early]: EarlyAnswering<N>
} = {
  why: about((ask, { survey }) => whyNot(survey, ask.address)),
  'route-to': about((ask, { survey }) => survey.routeTo(ask.what, ask.address)),
  'route-of': about((ask, { survey }) => survey.routeOf(ask.kind, ask.key)),
  'no-return': { about: 'story', work: (_, { survey }) => pointsOfNoReturn(survey) },
  'quest-facts': { about: 'story', work: (_, { survey }) => questFacts(survey) },
  'reading-list': {
    about: 'story',
    isLong: true,
    work: (_, { survey, within }) => readingList(survey, within(ASKED_MS)),
  },
  find: { about: 'story', work: (ask, { story, within }) => findRoute(story, ask.condition, within(ASKED_MS)) },
  'what-if': {
    about: 'story',
    *work(ask, of) {
      const applied = applyChange(of.story, ask.change)
      if (!applied.ok) throw new Error(applied.error)
      return compared(of.result(), yield* aside(applied.value.story, of, ASKED_MS))
    },
  },
  compare: {
    about: 'itself',
    isLong: true,
    *work(ask, of) {
      const before = yield* aside(ask.before, of, ASKED_MS)
      return compared(before, yield* aside(ask.after, of, ASKED_MS))
    },
  },
  carry: {
    about: 'itself',
    isLong: true,
    work: (ask, { within }) => carryOver(linkStory(ask.before), linkStory(ask.after), within(CARRY_MS)),
  },
  'chart-by-roads': {
    about: 'roads',
    *work(_, { linked }) {
      yield
      return chartOf(linked)
    },
  },
  chart: {
    about: 'story',
    *work(_, of) {
      const result = of.result()
      yield
      return chartOf(of.linked, (roads) => roadFacts(of.linked, result, roads))
    },
  },
  path: about((ask, { linked, survey }) => {
    const decisions = 'to' in ask ? survey.routeTo('beats', ask.to) : ask.decisions
    const from = 'to' in ask ? undefined : ask.from
    return decisions && playThrough(linked, decisions, from).steps.flatMap(({ beats }) => beats)
  }),
  uses: about(({ of, id }, { linked }) => usesIn(linked).filter((use) => use.of === of && use.id === id)),
  outlook: { about: 'story', isLong: true, work: (_, { survey, within }) => outlook(survey, within(ASKED_MS)) },
  'call-sheet': {
    about: 'story',
    isLong: true,
    *work({ axis }, { story, within }) {
      const stop = within(ASKED_MS)
      const made = yield* axis === undefined ? meetings(story, stop) : callSheet(withoutPromises(story), axis, stop)
      return made ?? 'too many'
    },
  },
  'entry-values': {
    about: 'story',
    isLong: true,
    *work(_, { story, survey, within }) {
      return (yield* entryValues(withoutPromises(story), within(ASIDE_MS))) ?? valuesSet(survey)
    },
  },
  mend: {
    about: 'story',
    work: (ask, of) => provenMend(of.story, ask.finding, of.survey, of.result(), (other) => aside(other, of, ASIDE_MS)),
  },
}

/** A question that is answered at once. */
function about<N extends QuestionName>(answer: (ask: Ask<N>, of: Asked) => Answer<N>): Answering<N> {
  return {
    about: 'story',
    *work(ask, of) {
      return answer(ask, of)
    },
  }
}

function* aside(story: Story, { linked, within }: Asked, limit: number): Slices<SurveyResult> {
  const stop = within(limit)
  const other = linkStory(story, linked)
  yield
  return yield* surveyInSlices(other, ON_REQUEST, stop)
}

function withoutPromises(story: Story): LinkedStory {
  return linkStory({ ...story, promises: [], routes: [] })
}

function compared(before: SurveyResult, after: SurveyResult): Compared {
  return { complete: before.complete && after.complete, difference: surveyDifference(before, after) }
}
