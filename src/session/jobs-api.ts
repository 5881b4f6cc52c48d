import * as z from 'zod'
import { madeSchema } from '../core/contract/answers'
import { jobsSchema, nightsSchema, type JobAsk } from '../core/contract/jobs'
import type { SimulationResult } from '../core/simulate/result'
import type { FarCarried } from '../core/survey/carry/carried'
import type { FarSurvey } from '../core/survey/far-survey'
import { ask, post } from './api'

const done = z.looseObject({})
/** What work came to is made by the same program; its shape is that of the page's own. */
const came = <T>() => z.custom<T>((value) => typeof value === 'object' && value !== null)
const remove = (path: string) => ask(path, done, { method: 'DELETE' })

/** Heavy work that is done beside the page. */
export const jobsApi = {
  list: (id: string) => ask(`/api/stories/${id}/jobs`, jobsSchema),
  begin: (id: string, wanted: JobAsk) => post(`/api/stories/${id}/jobs`, madeSchema, wanted),
  cancel: (id: string, job: string) => remove(`/api/stories/${id}/jobs/${job}`),
  survey: (id: string, job: string) => ask(`/api/stories/${id}/jobs/${job}`, came<FarSurvey>()),
  figures: (id: string, job: string) => ask(`/api/stories/${id}/jobs/${job}`, came<SimulationResult>()),
  carried: (id: string, job: string) => ask(`/api/stories/${id}/jobs/${job}`, came<readonly FarCarried[]>()),
  nights: () => ask('/api/nights', nightsSchema),
  beginNight: () => post('/api/nights', madeSchema),
  cancelNight: (job: string) => remove(`/api/nights/${job}`),
}
