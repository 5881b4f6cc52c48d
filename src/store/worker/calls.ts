import { Worker } from 'node:worker_threads'
import * as z from 'zod'
import type { KeptSurvey } from '../../core/survey/kept-survey'
import type { Cards, Facts, History, Hit, KeptPlaytest, Saved } from '../../core/contract/answers'
import type { PlayRecord } from '../../core/formats/playtest/read'
import { fail, ok, type Result } from '../../core/base/result'
import type { NewThread, Thread, ThreadChange } from '../../core/contract/comments'
import type { Role } from '../../core/contract/access'
import type { JobAsk, Jobs, Night } from '../../core/contract/jobs'
import { readChange } from '../../core/story/changes/schema'
import { newStory } from '../../core/story/new-story'
import { backupName, writeBackup } from '../backup'
import type { Jobs as JobsKept } from '../jobs/jobs'
import type { Store } from '../open'
import type { Doer } from '../audit'
import type { Members } from '../members'
import type { Incoming, Listed, Maker } from '../stories'
import type { Named, Refusal, Whose } from '../story-edits'
import type { Reading } from './reader'

/** What the server refuses, and why. */
export interface Refused {
  readonly kind: Refusal['kind'] | 'malformed' | 'no-request'
  readonly message: string
  readonly anyones?: true
}

/** What can be asked of who works here. */
const MEMBER_CALLS = [
  'secret',
  'firstKey',
  'find',
  'members',
  'roleOf',
  'storyMembers',
  'setRole',
  'setEveryone',
  'invite',
  'invitations',
  'withdraw',
  'open',
  'use',
  'beFirst',
  'setOwner',
  'leave',
  'sayChanged',
  'makeToken',
  'tokens',
  'endToken',
  'bearer',
  'mayTry',
  'enter',
  'deeds',
] as const satisfies readonly (keyof Members)[]
type MemberCalls = Pick<Members, (typeof MEMBER_CALLS)[number]>

/** What can be asked of the store; large bodies come and go as text, so that the thread of the server never reads them. */
export interface StoreCalls extends MemberCalls {
  threads(id: string): Promise<Thread[]>
  beginThread(id: string, who: Maker, thread: NewThread): Promise<string>
  changeThread(id: string, thread: string, who: Maker, change: ThreadChange): Promise<boolean>
  removeThread(id: string, thread: string, who: Maker, ownsStory: boolean): Promise<boolean>
  /** Who is where in a story, as JSON text for its windows. */
  tellHere(id: string, data: string): Promise<void>
  visited(id: string, member: string, revision: number): Promise<void>
  /** That the database answers. */
  ping(): Promise<void>
  list(asked: Listed): Promise<Cards>
  keepFacts(id: string, revision: number, facts: Facts, survey?: KeptSurvey): Promise<void>
  create(title: string, language: string, maker?: Maker): Promise<string>
  /** `id` names the import, for who asks how far it is. */
  importText(text: Uint8Array, id?: string, maker?: Maker): Promise<Result<string, Refused>>
  duplicate(id: string, maker?: Maker): Promise<string | undefined>
  titleOf(id: string): Promise<string | undefined>
  openText(id: string, role?: Role, member?: string): Promise<string | undefined>
  exportText(id: string): Promise<{ title: string; text: string } | undefined>
  /** Only the revision that a story is at. */
  revisionOf(id: string): Promise<number | undefined>
  textAt(id: string, revision: number): Promise<string | undefined>
  change(id: string, body: Uint8Array, by?: Named): Promise<Result<Saved, Refused>>
  travel(id: string, kind: 'undo' | 'redo', request: string, whose?: Whose): Promise<Result<Saved, Refused>>
  returnTo(id: string, revision: number, request: string, whose?: Whose): Promise<Result<Saved, Refused>>
  history(id: string, before?: number): Promise<History | undefined>
  nameVersion(id: string, name: string): Promise<boolean>
  releaseVersion(id: string, version: string, isReleased: boolean): Promise<boolean>
  forgetVersion(id: string, version: string): Promise<void>
  playtests(id: string): Promise<KeptPlaytest[] | undefined>
  addPlaytest(id: string, name: string, record: PlayRecord): Promise<boolean | undefined>
  removePlaytest(id: string, playtest: string): Promise<void>
  search(id: string, text: string): Promise<Hit[] | undefined>
  remove(id: string, doer?: Doer): Promise<boolean>
  restore(id: string, doer?: Doer): Promise<boolean>
  backUp(): Promise<string>
  jobs(id: string): Promise<Jobs>
  beginJob(id: string, ask: JobAsk, member?: string): ReturnType<JobsKept['begin']>
  /** As JSON text. */
  jobResult(id: string, job: string): Promise<string | undefined>
  cancelJob(id: string | undefined, job: string): Promise<boolean>
  night(member?: string): Promise<Night | undefined>
  beginNight(member?: string): Promise<string | undefined>
  load(): ReturnType<JobsKept['load']>
  close(): Promise<void>
}

/** The calls that only read, and so go on when there is no room to write. */
export const READING: ReadonlySet<keyof StoreCalls> = new Set([
  'ping',
  'list',
  'titleOf',
  'openText',
  'exportText',
  'revisionOf',
  'textAt',
  'history',
  'playtests',
  'search',
  'close',
  'find',
  'members',
  'roleOf',
  'storyMembers',
  'invitations',
  'open',
  'tokens',
  'bearer',
  'deeds',
  'threads',
  'tellHere',
  'jobs',
  'jobResult',
  'cancelJob',
  'night',
  'load',
])

const changeBody = z.strictObject({ request: z.uuid(), change: z.unknown(), author: z.uuid().optional() })

export interface Around {
  readonly data: string
  readonly reader: string
  /** Gives back what is worked on here. */
  stopWork(): Promise<void>
  /** Hears how many beats of an import are in. */
  progress(id: string, done: number, of: number): void
}

export function storeCalls(
  { stories, members, threads, jobs, database, close }: Store,
  { data, reader, progress, stopWork }: Around,
): StoreCalls {
  return {
    ...memberCalls(members),
    threads: (id) => threads.list(id),
    beginThread: (id, who, thread) => threads.begin(id, who, thread),
    changeThread: (id, thread, who, change) => threads.change(id, thread, who, change),
    removeThread: (id, thread, who, ownsStory) => threads.remove(id, thread, who, ownsStory),
    tellHere: (id, data) => threads.tellHere(id, data),
    visited: (id, member, revision) => threads.visited(id, member, revision),
    ping: async () => void (await database.query('select 1')),
    list: (asked) => stories.list(asked),
    keepFacts: (id, revision, facts, survey) => stories.keepFacts(id, revision, facts, survey),
    create: (title, language, maker) => stories.create(newStory(title, language), undefined, maker),
    importText: async (text, id, maker) => {
      const incoming = await readElsewhere(reader, text)
      if (!incoming.ok) return incoming
      const { beats, pieces } = incoming.value
      async function* counted() {
        let done = 0
        for await (const some of pieces) {
          if (id !== undefined) progress(id, done, beats)
          yield some
          done += some.filter(({ list }) => list === 'beats').length
        }
      }
      return ok(await stories.createFrom({ ...incoming.value, pieces: counted() }, undefined, maker))
    },
    duplicate: (id, maker) => stories.duplicate(id, maker),
    titleOf: (id) => stories.titleOf(id),
    openText: async (id, role, member) =>
      stories.openText(id, role, member === undefined ? undefined : await threads.since(id, member)),
    exportText: (id) => stories.exportText(id),
    revisionOf: (id) => stories.revisionOf(id),
    textAt: (id, revision) => stories.textAt(id, revision),
    change: async (id, body, by) => {
      const json = parse(body)
      const sent = changeBody.safeParse(json)
      if (!sent.success)
        return fail({ kind: 'no-request', message: 'a change is sent as { "request": a UUID, "change": … } in JSON' })
      const change = readChange(sent.data.change)
      if (!change.ok) return fail({ kind: 'malformed', message: change.error })
      return stories.change(id, change.value, sent.data.request, { author: sent.data.author, by })
    },
    travel: (id, kind, request, whose) => stories.travel(id, kind, request, whose),
    returnTo: (id, revision, request, whose) => stories.returnTo(id, revision, request, whose),
    history: (id, before) => stories.history(id, before),
    nameVersion: (id, name) => stories.nameVersion(id, name),
    releaseVersion: (id, version, isReleased) => stories.releaseVersion(id, version, isReleased),
    forgetVersion: (id, version) => stories.forgetVersion(id, version),
    playtests: (id) => stories.playtests(id),
    addPlaytest: (id, name, record) => stories.addPlaytest(id, name, record),
    removePlaytest: (id, playtest) => stories.removePlaytest(id, playtest),
    search: (id, text) => stories.search(id, text),
    remove: (id, doer) => stories.remove(id, doer),
    restore: (id, doer) => stories.restore(id, doer),
    backUp: async () => {
      const now = new Date()
      const file = backupName(data, now)
      await writeBackup(database, file, now)
      return file
    },
    jobs: (id) => jobs.list(id),
    beginJob: (id, ask, member) => jobs.begin(id, ask, member),
    jobResult: (id, job) => jobs.result(id, job),
    cancelJob: (id, job) => jobs.cancel(id, job),
    night: (member) => jobs.night(member),
    beginNight: (member) => jobs.beginNight(member),
    load: () => jobs.load(),
    close: async () => {
      await stopWork()
      await close()
    },
  }
}

function memberCalls(members: Members): MemberCalls {
  return Object.fromEntries(
    MEMBER_CALLS.map((name) => [name, (members[name] as (...args: never) => unknown).bind(members)]),
  ) as unknown as MemberCalls
}

function parse(body: Uint8Array): unknown {
  try {
    return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(body))
  } catch {
    return undefined
  }
}

/** Reads a story file in a thread of its own, and hands on its pieces as they come. */
async function readElsewhere(reader: string, text: Uint8Array): Promise<Result<Incoming, Refused>> {
  const worker = new Worker(reader, { workerData: text, transferList: [text.buffer as ArrayBuffer] })
  const queue: Reading[] = []
  let wake = () => {}
  let failed: string | undefined
  worker.on('message', (reading: Reading) => {
    queue.push(reading)
    wake()
  })
  worker.on('error', (error) => {
    failed = error.message
    wake()
  })
  worker.on('exit', () => {
    failed ??= 'it ended in the middle'
    wake()
  })
  const next = async (): Promise<Reading> => {
    while (queue.length === 0) {
      if (failed !== undefined) return { kind: 'malformed', message: `the file could not be read: ${failed}` }
      await new Promise<void>((resolve) => (wake = resolve))
    }
    return queue.shift()!
  }
  const first = await next()
  if (first.kind !== 'head') {
    const message = first.kind === 'malformed' ? first.message : 'the file could not be read'
    return fail({ kind: 'malformed', message })
  }
  async function* pieces() {
    for (let some = await next(); some.kind !== 'end'; some = await next()) {
      if (some.kind !== 'pieces') throw new Error('the file could not be read to its end')
      yield some.pieces
      worker.postMessage('more')
    }
  }
  return ok({ ...first, pieces: pieces() })
}
