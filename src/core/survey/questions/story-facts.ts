import type { Story } from '../../story/types'
import { writingFacts, type WritingFacts } from '../../story/words'
import { findingsLeft } from '../findings/set-aside'
import type { SurveyResult } from '../result'

/** What one asks first of a story. */
export interface StoryFacts extends WritingFacts {
  /** False where the survey was cut short: what is not reached may be yet. */
  readonly complete: boolean
  readonly endings: ReachedOf
  readonly stages: ReachedOf
  readonly errors: number
  readonly warnings: number
}

export interface ReachedOf {
  readonly reached: number
  readonly of: number
}

type Ends = Readonly<Record<'endings' | 'stages', readonly string[]>>

type Told = Pick<SurveyResult, 'complete' | 'findings'> & {
  readonly reached: Readonly<Record<'endings' | 'stages', object>>
  readonly unreached: Ends
  readonly undecided: Ends
}

/** A story's facts, of the survey of just this story; findings that were set aside do not count. */
export function storyFacts(story: Story, told: Told): StoryFacts {
  const findings = findingsLeft(told.findings, story.setAside)
  const count = (what: 'endings' | 'stages'): ReachedOf => {
    const reached = Object.keys(told.reached[what]).length
    return { reached, of: reached + told.unreached[what].length + told.undecided[what].length }
  }
  const level = (wanted: string) => findings.filter((one) => one.level === wanted).length
  return {
    ...writingFacts(story),
    complete: told.complete,
    endings: count('endings'),
    stages: count('stages'),
    errors: level('error'),
    warnings: level('warning'),
  }
}
