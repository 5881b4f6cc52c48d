import { randomUUID } from 'node:crypto'
import { setTimeout as sleep } from 'node:timers/promises'
import { Worker } from 'node:worker_threads'
import { placeOf } from '../../core/base/error-place'
import { DatabaseAway } from '../database'
import type { FromHeavy } from './heavy'
import { firstPlayOf } from './jobs'
import type { Claim } from './claim'
import { optionsOf } from './fold'
import type { Store } from '../open'
import type { Message } from './queue'
import type { JobSettings } from './settings'
import type { NightSurvey, ReleasedText, Work } from './work'

/** Between two signs that one is still at it, in milliseconds. */
const BEAT_MS = 1_000
/** Between two signs of being there, and looks at what the others left, in milliseconds. */
const ROUND_MS = 5_000
/** Before something is tried again while the database is away, in milliseconds. */
const AGAIN_MS = 1_000

export interface RunnerOptions extends JobSettings {
  /** The bundle of the thread in which the work is done. */
  readonly heavy: string
  /** Hears of what goes wrong, without a story's words. */
  readonly trouble: (what: string) => void
}

/** What became of a share; `ended`: nobody wants it any more, or not here. */
type Outcome = Exclude<FromHeavy, { kind: 'progress' }> | { readonly kind: 'ended' }

/** Takes one share after another from the queue and does it in a thread of its own. */
export class Runner {
  private readonly id = randomUUID()
  private readonly rounds: NodeJS.Timeout
  private thread: Worker | undefined
  /** Ends what is under way. */
  private end: (() => void) | undefined
  private isStopping = false
  private idle = Promise.resolve()

  private constructor(
    private readonly store: Pick<Store, 'jobs' | 'queue' | 'stories' | 'database'>,
    private readonly options: RunnerOptions,
  ) {
    this.rounds = setInterval(() => void this.round(), ROUND_MS)
    this.rounds.unref()
  }

  static async start(store: Store, options: RunnerOptions): Promise<Runner> {
    const runner = new Runner(store, options)
    // what is begun in a database of this process alone is left from the one before
    if (store.database.others === undefined) await store.jobs.sweep(0)
    await store.queue.work(
      (message) => (runner.idle = runner.take(message)),
      async () => void (await store.jobs.beginNight()),
      options.night,
    )
    await runner.round()
    return runner
  }

  /** Gives back what is under way, for another to do. */
  async stop(): Promise<void> {
    this.isStopping = true
    clearInterval(this.rounds)
    this.end?.()
    await this.idle
    await this.store.queue.stop()
    await this.thread?.terminate()
    await this.store.jobs.gone(this.id).catch(() => undefined)
  }

  private async round(): Promise<void> {
    try {
      await this.store.jobs.seen(this.id)
      await this.store.jobs.sweep(this.options.lostS)
    } catch {
      // in the next round
    }
  }

  private async take({ job, share }: Message): Promise<void> {
    if (this.isStopping) return
    let claim: Claim | undefined
    try {
      claim = await this.store.jobs.claim(job, share)
      if (claim === undefined) return
      const work = await this.workOf(claim)
      if (work === undefined) return await this.store.jobs.fail(claim, 'The story is not there any more.')
      const came = await this.done(claim, work)
      if (came.kind === 'done') await this.entered(() => this.finish(claim!, came.came))
      else if (came.kind === 'failed') await this.entered(() => this.store.jobs.fail(claim!, came.message))
      else if (this.isStopping) await this.store.jobs.giveBack(claim)
    } catch (error) {
      // whoever looks round next puts it back
      this.options.trouble(
        `Work was left: ${error instanceof DatabaseAway ? 'the database does not answer' : placeOf(error)}`,
      )
    }
  }

  private async finish(claim: Claim, came: string): Promise<void> {
    const { stories, jobs } = this.store
    if (!(await jobs.finish(claim, came)) || claim.ask.kind !== 'night') return
    // the library tells of it as well
    await stories.keepFacts(claim.story, claim.revision, (JSON.parse(came) as NightSurvey).facts)
  }

  /** What was done is entered as soon as the database is there again. */
  private async entered(enter: () => Promise<unknown>): Promise<void> {
    for (;;) {
      try {
        await enter()
        return
      } catch (error) {
        if (!(error instanceof DatabaseAway) || this.isStopping) throw error
        await sleep(AGAIN_MS)
      }
    }
  }

  private async workOf({ ask, story, revision, share, total }: Claim): Promise<Work | undefined> {
    const text = await this.store.stories.textAt(story, revision)
    if (text === undefined) return undefined
    switch (ask.kind) {
      case 'survey':
        return { kind: 'survey', story: text }
      case 'simulate':
        return { kind: 'simulate', story: text, options: optionsOf(ask), from: firstPlayOf(share), plays: total }
      case 'carry': {
        const [version] = await this.textsOf(story, ask.versions.slice(share, share + 1))
        return version && { kind: 'carry', story: text, version }
      }
      case 'night':
        return {
          kind: 'night',
          story: text,
          versions: await this.textsOf(story, await this.store.stories.released(story)),
        }
    }
  }

  private async textsOf(story: string, versions: readonly Omit<ReleasedText, 'text'>[]): Promise<ReleasedText[]> {
    const all: ReleasedText[] = []
    for (const version of versions) {
      const text = await this.store.stories.textAt(story, version.revision)
      if (text !== undefined) all.push({ ...version, text })
    }
    return all
  }

  /** Has the work done in the thread, which is ended when nobody wants it any more. */
  private async done(claim: Claim, work: Work): Promise<Outcome> {
    const thread = (this.thread ??= this.newThread())
    let done = 0
    let tell: (outcome: Outcome) => void = () => undefined
    const outcome = new Promise<Outcome>((resolve) => (tell = resolve))
    const onMessage = (message: FromHeavy) => {
      if (message.kind === 'progress') done = message.done
      else tell(message)
    }
    const onError = (error: unknown) => tell({ kind: 'failed', message: outOf(error) })
    const onExit = () => tell({ kind: 'ended' })
    thread.on('message', onMessage).on('error', onError).on('exit', onExit)
    this.end = () => void thread.terminate()
    const beats = setInterval(() => {
      this.store.jobs.beat(claim, done).then(
        (isWanted) => void (isWanted || thread.terminate()),
        // while the database is away one goes on
        () => undefined,
      )
    }, BEAT_MS)
    thread.postMessage(work)
    const came = await outcome
    clearInterval(beats)
    this.end = undefined
    // a thread that is used again has listeners of its own, which stay
    thread.off('message', onMessage).off('error', onError).off('exit', onExit)
    if (came.kind !== 'done') {
      await thread.terminate()
      this.thread = undefined
    }
    return came
  }

  private newThread(): Worker {
    const { heavy, bounds } = this.options
    return new Worker(/* turbopackIgnore: true */ heavy, { workerData: bounds })
  }
}

function outOf(error: unknown): string {
  const isMemory = (error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY'
  return isMemory ? 'it took more memory than there is' : 'the thread in which it was done failed'
}
