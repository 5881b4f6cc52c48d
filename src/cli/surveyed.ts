import type { SurveyResult } from '../core/survey/result'
import type { Input } from './read-input'

export interface Surveyed {
  readonly input: Input
  readonly result: SurveyResult
}
