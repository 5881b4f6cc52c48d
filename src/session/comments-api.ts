import * as z from 'zod'
import { madeSchema } from '../core/contract/answers'
import { threadsSchema, type NewThread, type ThreadChange } from '../core/contract/comments'
import { ask, post } from './api'

const done = z.looseObject({})
/** Sent even while the page is being left. */
const keepalive = { keepalive: true }

export const commentsApi = {
  list: (id: string) => ask(`/api/stories/${id}/comments`, threadsSchema),
  begin: (id: string, thread: NewThread) => post(`/api/stories/${id}/comments`, madeSchema, thread),
  change: (id: string, thread: string, change: ThreadChange) =>
    post(`/api/stories/${id}/comments/${thread}`, done, change),
  remove: (id: string, thread: string) => ask(`/api/stories/${id}/comments/${thread}`, done, { method: 'DELETE' }),
  here: (id: string, told: { window: string; beat: string | null; isHere: boolean }) =>
    post(`/api/stories/${id}/here`, done, told, keepalive),
  visited: (id: string, revision: number) => post(`/api/stories/${id}/visited`, done, { revision }, keepalive),
}
