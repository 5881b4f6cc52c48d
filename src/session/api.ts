import * as z from 'zod'
import { STORY_FILE_BYTES } from '../core/base/limits'
import { fail, ok, type Result } from '../core/base/result'
import {
  cardsSchema,
  historySchema,
  hitSchema,
  incomingFileSchema,
  readManuscriptSchema,
  leftOfChartSchema,
  voicesSchema,
  madeSchema,
  openedSchema,
  playtestsSchema,
  pointSchema,
  progressSchema,
  refusalSchema,
  savedSchema,
  type Facts,
  type Order,
} from '../core/contract/answers'
import type { PlayRecord } from '../core/formats/playtest/read'
import type { KeptSurvey } from '../core/survey/kept-survey'
import type { Change } from '../core/story/changes/types'
import { windowId } from './window-id'

/**
 * Why the server did not do something. `away`: it could not be asked or has no room, so asking again helps some time;
 * `failed`: it tried and could not, so that asking again may help, or never.
 */
export interface ApiError {
  readonly kind: 'away' | 'failed' | 'refused'
  readonly message: string
  /** One is not signed in any more. */
  readonly isSignedOut?: true
  /** What was asked of this window's own edits can be asked of the last one, whoever made it. */
  readonly anyones?: true
}

/** Asks the server for something of a shape; an answer of another is told as one that can't be read. */
export function ask<T>(path: string, shape: z.ZodType<T>, init: RequestInit = {}): Promise<Result<T, ApiError>> {
  return answerTo(fetch(path, init), shape)
}

/** A file that the server makes, with the name that it gives it. */
async function fileAt(path: string): Promise<Result<{ readonly name: string; readonly blob: Blob }, ApiError>> {
  try {
    const response = await fetch(path)
    if (!response.ok) return await answerTo(Promise.resolve(response), z.never())
    const [, name] = /filename\*=UTF-8''([^;]+)/.exec(response.headers.get('Content-Disposition') ?? '') ?? []
    return ok({ name: decodeURIComponent(name ?? ''), blob: await response.blob() })
  } catch {
    return fail(AWAY)
  }
}

const AWAY: ApiError = { kind: 'away', message: 'The server can not be reached.' }

/** The answer to what was asked. */
async function answerTo<T>(asked: Promise<Response>, shape: z.ZodType<T>): Promise<Result<T, ApiError>> {
  let response: Response
  try {
    response = await asked
  } catch {
    return fail(AWAY)
  }
  const text = await response.text()
  let body: unknown
  try {
    body = JSON.parse(text)
  } catch {
    return fail({ kind: kindOf(response.status), message: `The server answered with ${response.status}.` })
  }
  if (response.ok) {
    const read = shape.safeParse(body)
    return read.success
      ? ok(read.data)
      : fail({
          kind: 'refused',
          message: 'The server answered with something that this page does not know; reload it.',
        })
  }
  const said = refusalSchema.safeParse(body)
  const message = said.success ? said.data.message : `The server answered with ${response.status}.`
  const anyones = said.success && said.data.anyones
  const more = { ...(anyones ? { anyones } : {}), ...(response.status === 401 ? { isSignedOut: true as const } : {}) }
  return fail({ kind: kindOf(response.status), message, ...more })
}

function kindOf(status: number): ApiError['kind'] {
  // whoever signs in again goes on where they were
  if (status === 401) return 'away'
  if (status < 500) return 'refused'
  // what stands before the server, the store that starts, and a full disk are there again some time
  return status === 500 || status === 501 ? 'failed' : 'away'
}

export function post<T>(
  path: string,
  shape: z.ZodType<T>,
  body: unknown = {},
  init: RequestInit = {},
): Promise<Result<T, ApiError>> {
  return ask(path, shape, {
    ...init,
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  })
}

/** The largest story file that the server takes, as it says on its page. */
function storyBytes(): number {
  return Number(document.documentElement.dataset.storyBytes) || STORY_FILE_BYTES
}

export const api = {
  list: (text = '', from = 0, order: Order = 'changed') =>
    ask(`/api/stories?q=${encodeURIComponent(text)}&from=${from}&order=${order}`, cardsSchema),
  create: (title: string) => post('/api/stories', madeSchema, { title }),
  importFile: async (file: Blob, id: string): Promise<Result<{ id: string }, ApiError>> =>
    // said here, before it is sent for nothing
    file.size > storyBytes()
      ? fail({
          kind: 'refused',
          message: `This file is too large: a story file has at most ${Math.round(storyBytes() / 1024 / 1024)} MB.`,
        })
      : ask(`/api/stories?import=${id}`, madeSchema, {
          method: 'POST',
          headers: { 'Content-Type': 'application/octet-stream' },
          body: file,
        }),
  importProgress: (id: string) => ask(`/api/imports/${id}`, progressSchema),
  /** `asked`: what was asked for already. */
  open: (id: string, asked = fetch(`/api/stories/${id}`)) => answerTo(asked, openedSchema),
  remove: (id: string) => ask(`/api/stories/${id}`, madeSchema, { method: 'DELETE' }),
  restore: (id: string) => post(`/api/stories/${id}/restore`, madeSchema),
  duplicate: (id: string) => post(`/api/stories/${id}/duplicate`, madeSchema),
  change: (id: string, change: Change, request: string) =>
    post(`/api/stories/${id}/changes`, savedSchema, { change, request, author: windowId() }),
  travel: (id: string, kind: 'undo' | 'redo', request: string, anyones: boolean) =>
    post(`/api/stories/${id}/${kind}`, savedSchema, { request, anyones, author: windowId() }),
  returnTo: (id: string, revision: number, request: string) =>
    post(`/api/stories/${id}/return`, savedSchema, { revision, request, author: windowId() }),
  history: (id: string, before?: number) =>
    ask(`/api/stories/${id}/history${before === undefined ? '' : `?before=${before}`}`, historySchema),
  at: (id: string, revision: number) => ask(`/api/stories/${id}/at/${revision}`, pointSchema),
  nameVersion: (id: string, name: string) => post(`/api/stories/${id}/versions`, z.object({}), { name }),
  releaseVersion: (id: string, version: string, isReleased: boolean) =>
    post(`/api/stories/${id}/versions/${version}`, z.object({}), { isReleased }),
  forgetVersion: (id: string, version: string) =>
    ask(`/api/stories/${id}/versions/${version}`, z.object({}), { method: 'DELETE' }),
  /** Sent even while the page is being left. */
  keepFacts: (id: string, revision: number, facts: Facts) =>
    post(`/api/stories/${id}/facts`, z.object({}), { revision, facts }, { keepalive: true }),
  /** With all that the survey said: too much to be sent while the page is being left. */
  keepSurvey: (id: string, revision: number, facts: Facts, survey: KeptSurvey) =>
    post(`/api/stories/${id}/facts`, z.object({}), { revision, facts, survey }),
  search: (id: string, text: string) =>
    ask(`/api/stories/${id}/search?q=${encodeURIComponent(text)}`, z.array(hitSchema)),
  playtests: (id: string) => ask(`/api/stories/${id}/playtests`, playtestsSchema),
  addPlaytest: (id: string, name: string, record: PlayRecord) =>
    post(`/api/stories/${id}/playtests`, z.object({ added: z.boolean() }), { name, record }),
  removePlaytest: (id: string, playtest: string) =>
    ask(`/api/stories/${id}/playtests/${playtest}`, z.object({}), { method: 'DELETE' }),
  /** The texts of a language as a file: of all scenes where none is named. */
  textsPath: (id: string, language: string, format: string, of: { scene: string; withComments: boolean }) => {
    const asked = new URLSearchParams({ language, format })
    if (of.scene !== '') asked.set('scene', of.scene)
    if (of.withComments) asked.set('comments', 'open')
    return `/api/stories/${id}/texts?${asked.toString()}`
  },
  file: fileAt,
  readTexts: (id: string, format: string, file: Blob) =>
    ask(`/api/stories/${id}/texts?format=${format}`, incomingFileSchema, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: file,
    }),
  /** A reading copy; `of` says of what, such as `scene=quay`. */
  copyPath: (id: string, format: string, of: string, open = false) =>
    `/api/stories/${id}/copy?format=${format}${of === '' ? '' : `&${of}`}${open ? '&open=here' : ''}`,
  chartPath: (id: string, format: string) => `/api/stories/${id}/chart?format=${format}`,
  leftOfChart: (id: string, format: string) =>
    ask(`/api/stories/${id}/chart?format=${format}&only=left`, leftOfChartSchema),
  readManuscript: (format: string, file: Blob) =>
    ask(`/api/manuscripts?format=${format}`, readManuscriptSchema, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: file,
    }),
  voices: (id: string, language: string) =>
    ask(`/api/stories/${id}/voices?language=${encodeURIComponent(language)}`, voicesSchema),
  readVoices: (id: string, file: Blob) =>
    ask(`/api/stories/${id}/voices`, z.record(z.string(), z.string()), {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: file,
    }),
  voicesPath: (
    id: string,
    asked: { language: string; person: string; scene: string; onlyOpen: boolean },
    format: string,
    open = false,
  ) => {
    const query = new URLSearchParams({ language: asked.language, format })
    if (asked.person !== '') query.set('person', asked.person)
    if (asked.scene !== '') query.set('scene', asked.scene)
    if (asked.onlyOpen) query.set('only', 'open')
    if (open) query.set('open', 'here')
    return `/api/stories/${id}/voices?${query.toString()}`
  },
  eventsPath: (id: string) => `/api/stories/${id}/events`,
  storyPath: (id: string) => `/api/stories/${id}`,
  exportPath: (id: string) => `/api/stories/${id}/export`,
}
