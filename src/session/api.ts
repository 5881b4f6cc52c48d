import { z } from 'zod'
import { STORY_FILE_BYTES } from '../core/base/limits'
import { fail, ok, type Result } from '../core/base/result'
import type { Change } from '../core/story/changes/types'
import type { Story } from '../core/story/types'

/** Why the server did not do something. `away`: it could not be asked at all, so asking again may help. */
export interface ApiError {
  readonly kind: 'away' | 'refused'
  readonly message: string
}

export interface SavedAnswer {
  readonly revision: number
  readonly change: Change
  readonly summary: string
  readonly canUndo: boolean
  readonly canRedo: boolean
}

/** A saved change, and the request that made it. */
export interface Told extends SavedAnswer {
  readonly request: string
}

export interface HistoryStep {
  readonly revision: number
  readonly madeAt: string
  readonly kind: 'edit' | 'undo' | 'redo'
  readonly target: number | null
  readonly summary: string
}

export interface Version {
  readonly id: string
  readonly revision: number
  readonly name: string
  readonly madeAt: string
}

export interface History {
  readonly steps: readonly HistoryStep[]
  readonly versions: readonly Version[]
  readonly revision: number
}

/** Something found by its words. */
export interface Hit {
  readonly kind: 'line' | 'choice' | 'question' | 'beat' | 'scene' | 'person' | 'entry' | 'quest' | 'stage' | 'ending'
  readonly address: string
  readonly text: string
  readonly notes: string | null
  readonly who: string | null
}

export interface OpenAnswer {
  readonly id: string
  /** One of the stories that ship with the program. */
  readonly sample: boolean
  readonly story: Story
  readonly revision: number
  readonly canUndo: boolean
  readonly canRedo: boolean
}

export interface Card {
  readonly id: string
  readonly title: string
  readonly changedAt: string
  readonly scenes: number
  readonly beats: number
  readonly sample: boolean
}

const refusal = z.object({ message: z.string() })

async function ask<T>(path: string, init: RequestInit = {}): Promise<Result<T, ApiError>> {
  let response: Response
  try {
    response = await fetch(path, init)
  } catch {
    return fail({ kind: 'away', message: 'The server can not be reached.' })
  }
  const text = await response.text()
  let body: unknown
  try {
    body = JSON.parse(text)
  } catch {
    return fail({
      kind: response.status >= 500 ? 'away' : 'refused',
      message: `The server answered with ${response.status}.`,
    })
  }
  if (response.ok) return ok(body as T)
  const said = refusal.safeParse(body)
  const message = said.success ? said.data.message : `The server answered with ${response.status}.`
  return fail({ kind: response.status >= 500 ? 'away' : 'refused', message })
}

function post<T>(path: string, body: unknown = {}): Promise<Result<T, ApiError>> {
  return ask(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) })
}

export const api = {
  list: () => ask<Card[]>('/api/stories'),
  create: (title: string) => post<{ id: string }>('/api/stories', { title }),
  importFile: async (file: Blob): Promise<Result<{ id: string }, ApiError>> =>
    // said here, before it is sent for nothing
    file.size > STORY_FILE_BYTES
      ? fail({
          kind: 'refused',
          message: `This file is too large: a story file has at most ${STORY_FILE_BYTES / 1024 / 1024} MB.`,
        })
      : ask('/api/stories', { method: 'POST', headers: { 'Content-Type': 'application/octet-stream' }, body: file }),
  open: (id: string) => ask<OpenAnswer>(`/api/stories/${id}`),
  remove: (id: string) => ask<{ id: string }>(`/api/stories/${id}`, { method: 'DELETE' }),
  restore: (id: string) => post<{ id: string }>(`/api/stories/${id}/restore`),
  duplicate: (id: string) => post<{ id: string }>(`/api/stories/${id}/duplicate`),
  change: (id: string, change: Change, request: string) =>
    post<SavedAnswer>(`/api/stories/${id}/changes`, { change, request }),
  travel: (id: string, kind: 'undo' | 'redo', request: string) =>
    post<SavedAnswer>(`/api/stories/${id}/${kind}`, { request }),
  returnTo: (id: string, revision: number, request: string) =>
    post<SavedAnswer>(`/api/stories/${id}/return`, { revision, request }),
  history: (id: string, before?: number) =>
    ask<History>(`/api/stories/${id}/history${before === undefined ? '' : `?before=${before}`}`),
  at: (id: string, revision: number) => ask<{ story: Story }>(`/api/stories/${id}/at/${revision}`),
  nameVersion: (id: string, name: string) => post<object>(`/api/stories/${id}/versions`, { name }),
  forgetVersion: (id: string, version: string) =>
    ask<object>(`/api/stories/${id}/versions/${version}`, { method: 'DELETE' }),
  search: (id: string, text: string) => ask<Hit[]>(`/api/stories/${id}/search?q=${encodeURIComponent(text)}`),
  eventsPath: (id: string) => `/api/stories/${id}/events`,
  exportPath: (id: string) => `/api/stories/${id}/export`,
}
