import { Worker } from 'node:worker_threads'
import { ownFolder, type Ownership } from '../folder-owner'
import { RESERVE_BYTES } from '../reserve'
import type { Maker } from '../stories'
import type { StoreCalls } from './calls'
import { StoreFailure, type Answer, type Call, type ThreadData, type Watch } from './protocol'

/** How long an answer may take, in milliseconds; large texts take longer. */
const ANSWER_MS = 20_000
const LONG_MS = 300_000
const LONG: ReadonlySet<keyof StoreCalls> = new Set(['importText', 'duplicate', 'backUp'])
/** How long the store may take to close, in milliseconds. */
const CLOSE_MS = 3_000
/** After a failed start, before the next is tried, in milliseconds. */
const AGAIN_MS = 1_000

/** Who hears of a story's changes. */
interface Listening {
  hear(told: string): void
  /** Nothing more will be heard, and what was changed last may not have been: one reads the story and listens anew. */
  readonly lose: (() => void) | undefined
  readonly news: ((event: string, data: string) => void) | undefined
}

interface Waiting {
  readonly resolve: (value: never) => void
  readonly reject: (error: StoreFailure) => void
  readonly timer: NodeJS.Timeout
}

export interface ClientOptions extends Omit<ThreadData, 'reserve'> {
  /** The bundle of the store's thread. */
  readonly thread: string
  readonly reserve?: number
  readonly answerMs?: number
}

/**
 * The store in a thread of its own, so that nothing it does stalls the server. A thread that died or does not answer is
 * started anew: what was acknowledged is on disk.
 */
export class StoreClient {
  private worker: Worker | undefined
  private starting: Promise<void> | undefined
  private readonly waiting = new Map<number, Waiting>()
  private readonly listeners = new Map<string, Set<Listening>>()
  private readonly access = new Set<(member: string) => void>()
  private readonly imports = new Map<string, { readonly done: number; readonly of: number }>()
  private next = 1
  private closed = false
  private released: Promise<void> | undefined
  private failedAt = 0
  private failure: StoreFailure | undefined

  private constructor(
    private readonly options: ClientOptions,
    private readonly owner: Ownership | undefined,
  ) {}

  /** Opens the store of a server's database, or that of a data folder, alone. Throws with the reason when that can't be. */
  static async open(options: ClientOptions): Promise<StoreClient> {
    const owner = options.server === undefined ? await ownFolder(options.data) : undefined
    if (owner?.ok === false) throw new Error(owner.error)
    const client = new StoreClient(options, owner?.value)
    try {
      await client.start()
    } catch (error) {
      await client.close()
      throw error
    }
    return client
  }

  /** Says why, should another process get the folder. Nothing is written any more then. */
  get lost(): Promise<string> {
    if (this.owner === undefined) return new Promise(() => undefined)
    return this.owner.lost.then(async (why) => {
      this.closed = true
      await this.worker?.terminate()
      return why
    })
  }

  async ask<Name extends keyof StoreCalls>(
    name: Name,
    ...args: Parameters<StoreCalls[Name]>
  ): Promise<Awaited<ReturnType<StoreCalls[Name]>>> {
    await this.start()
    const { worker } = this
    if (worker === undefined) throw away()
    const id = this.next++
    return new Promise<Awaited<ReturnType<StoreCalls[Name]>>>((resolve, reject) => {
      const limit = LONG.has(name) ? LONG_MS : (this.options.answerMs ?? ANSWER_MS)
      const timer = setTimeout(() => {
        this.waiting.delete(id)
        reject(away('The store does not answer. It is started again; what was saved is kept.'))
        // whatever holds it up would hold up all that follows
        void worker.terminate()
      }, limit)
      timer.unref()
      this.waiting.set(id, { resolve, reject, timer })
      const transfer = args.filter((arg): arg is Uint8Array<ArrayBuffer> => arg instanceof Uint8Array)
      worker.postMessage(
        { id, name, args } satisfies Call,
        transfer.map(({ buffer }) => buffer),
      )
    })
  }

  /** Puts a story file in under a name by which one can ask how far it is. */
  async import(text: Uint8Array<ArrayBuffer>, id: string, maker?: Maker): ReturnType<StoreCalls['importText']> {
    this.imports.set(id, { done: 0, of: 0 })
    try {
      return await this.ask('importText', text, id, maker)
    } finally {
      this.imports.delete(id)
    }
  }

  /** How many beats of an import are in; of 0 while the file is still being read. */
  progressOf(id: string): { readonly done: number; readonly of: number } | undefined {
    return this.imports.get(id)
  }

  /** Hears of every change to a story, as JSON text, and what else is new of it for its windows; gives what stops it. */
  listen(
    story: string,
    hear: (told: string) => void,
    lose?: () => void,
    news?: (event: string, data: string) => void,
  ): () => void {
    const all = this.listeners.get(story) ?? new Set()
    const one: Listening = { hear, lose, news }
    if (all.size === 0) this.watch(story, true)
    this.listeners.set(story, all)
    all.add(one)
    return () => {
      if (!all.delete(one) || all.size > 0 || this.listeners.get(story) !== all) return
      this.listeners.delete(story)
      this.watch(story, false)
    }
  }

  /** Hears when what a member may do has changed, or `*` when that may be so of all; gives what stops it. */
  onAccess(hear: (member: string) => void): () => void {
    this.access.add(hear)
    return () => void this.access.delete(hear)
  }

  private watch(story: string, isOn: boolean): void {
    this.worker?.postMessage({ watch: story, isOn } satisfies Watch)
  }

  /** Ends what is under way within a few seconds, whatever happens, and gives the folder up. */
  async close(): Promise<void> {
    if (!this.closed && this.worker !== undefined) {
      const done = this.ask('close').catch(() => undefined)
      this.closed = true
      let late: NodeJS.Timeout | undefined
      await Promise.race([done, new Promise((resolve) => (late = setTimeout(resolve, CLOSE_MS)))])
      clearTimeout(late)
    }
    this.closed = true
    await this.worker?.terminate()
    await (this.released ??= this.owner?.release())
  }

  private start(): Promise<void> {
    if (this.closed) return Promise.reject(away('The store is closed.'))
    if (this.worker !== undefined) return this.starting!
    if (this.failure !== undefined && Date.now() - this.failedAt < AGAIN_MS) return Promise.reject(this.failure)
    const { thread, data, server, migrations, samples, reader, work, reserve = RESERVE_BYTES } = this.options
    const worker = new Worker(/* turbopackIgnore: true */ thread, {
      workerData: { data, server, migrations, samples, reader, work, reserve } satisfies ThreadData,
    })
    this.worker = worker
    for (const story of this.listeners.keys()) this.watch(story, true)
    this.starting = new Promise((resolve, reject) => {
      worker.on('message', (answer: Answer) => {
        if (answer.kind === 'ready') resolve()
        else if (answer.kind === 'closed') {
          this.failure = new StoreFailure({ kind: 'away', message: answer.message })
          reject(this.failure)
          void worker.terminate()
        } else this.hear(answer)
      })
      const gone = (why: string) => {
        reject(this.failure ?? away(why))
        if (this.worker !== worker) return
        this.worker = undefined
        this.failedAt = Date.now()
        this.failure ??= away(why)
        for (const [id, { reject: refuse, timer }] of this.waiting) {
          clearTimeout(timer)
          this.waiting.delete(id)
          refuse(away('The store had to be started again. What was saved is kept; this may not have been.'))
        }
        for (const hear of [...this.access]) hear('*')
        for (const all of [...this.listeners.values()]) for (const { lose } of [...all]) lose?.()
      }
      worker.on('error', (error) => gone(`The store's thread failed: ${error.message}`))
      worker.on('exit', () => gone("The store's thread ended."))
    })
    this.starting.then(
      () => (this.failure = undefined),
      () => undefined,
    )
    return this.starting
  }

  private hear(answer: Exclude<Answer, { kind: 'ready' | 'closed' }>): void {
    if (answer.kind === 'told') {
      for (const { hear } of this.listeners.get(answer.story) ?? []) hear(answer.told)
      return
    }
    if (answer.kind === 'news') {
      for (const { news } of this.listeners.get(answer.story) ?? []) news?.(answer.event, answer.data)
      return
    }
    if (answer.kind === 'access') {
      for (const hear of [...this.access]) hear(answer.member)
      return
    }
    if (answer.kind === 'progress') {
      if (this.imports.has(answer.import)) this.imports.set(answer.import, { done: answer.done, of: answer.of })
      return
    }
    const waiting = this.waiting.get(answer.id)
    if (waiting === undefined) return
    this.waiting.delete(answer.id)
    clearTimeout(waiting.timer)
    if (answer.kind === 'answer') waiting.resolve(answer.value as never)
    else waiting.reject(new StoreFailure(answer.failure))
  }
}

function away(message = 'The store is not there at the moment.'): StoreFailure {
  return new StoreFailure({ kind: 'away', message })
}
