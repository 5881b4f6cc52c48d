import * as z from 'zod'
import { madeSchema } from './answers'
import { jobAskSchema, jobsSchema, nightsSchema } from './jobs'
import type { Operation } from './operation'

/** What is asked of heavy work. */
export const JOB_OPERATIONS: readonly Operation[] = [
  {
    method: 'get',
    path: '/api/stories/{id}/jobs',
    id: 'jobs',
    says: 'What heavy work was asked for of a story, the latest first, and how far it is.',
    answer: jobsSchema,
  },
  {
    method: 'post',
    path: '/api/stories/{id}/jobs',
    id: 'beginJob',
    says: 'Asks for heavy work on a story as it is now: a survey to its end, players by the million, what becomes of saves of released versions.',
    body: jobAskSchema,
    answer: madeSchema,
    refusals: [400, 409],
  },
  {
    method: 'get',
    path: '/api/stories/{id}/jobs/{job}',
    id: 'jobResult',
    says: 'What heavy work came to, once it is done.',
    answer: z.unknown(),
  },
  {
    method: 'delete',
    path: '/api/stories/{id}/jobs/{job}',
    id: 'cancelJob',
    says: 'Ends heavy work before it is done.',
    answer: z.object({}),
  },
  {
    method: 'get',
    path: '/api/nights',
    id: 'night',
    says: 'What the latest survey of all stories said, beside the one before it, of those that one may read.',
    answer: nightsSchema,
  },
  {
    method: 'post',
    path: '/api/nights',
    id: 'beginNight',
    says: 'Begins a survey of all stories now.',
    answer: madeSchema,
    refusals: [409],
  },
  {
    method: 'delete',
    path: '/api/nights/{job}',
    id: 'cancelNight',
    says: 'Ends a survey of all stories before it is over.',
    answer: z.object({}),
    refusals: [404],
  },
]
