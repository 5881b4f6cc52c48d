import { createHmac, timingSafeEqual } from 'node:crypto'
import type { WebSocket } from 'ws'
import type * as z from 'zod'
import { isUuid } from '../core/base/ids'
import {
  gameStateSchema,
  joinSchema,
  sendSchema,
  tookSchema,
  watchSchema,
  type Game,
  type Took,
} from '../core/contract/live'
import type { Bundle } from '../core/formats/bundle/format'
import { writeBundle } from '../core/formats/bundle/write'
import { keptStory, type StoryKeeper } from '../store/kept-story'
import { Line, refusal } from './line'
import { LIVE_LIMITS, type LiveLimits } from './limits'

/** What the hub needs of the store. */
export interface LiveStore extends StoryKeeper {
  listen(id: string, hear: (told: string) => void): () => void
  /** Hears when what somebody may do has changed. */
  onAccess(hear: (member: string) => void): () => void
}

interface Joined extends Game {
  readonly line: Line
}

/** What goes on round one story while somebody is on the line. */
interface Room {
  readonly story: string
  readonly games: Map<string, Joined>
  readonly windows: Set<Line>
  stopListening: () => void
  telling: NodeJS.Timeout | undefined
  /** The revision that games have. */
  revision: number
}

/** Brings running games and windows on the same story together. */
export class Hub {
  private readonly rooms = new Map<string, Room>()
  private next = 1
  private games = 0
  private windows = 0

  constructor(
    private readonly store: LiveStore,
    /** From which keys are made; whoever has it can make them all. */
    private readonly secret: Buffer,
    private readonly limits: LiveLimits = LIVE_LIMITS,
  ) {}

  /** By which a game joins a story: the story's id and a proof that it was given here. */
  keyOf(story: string): string {
    return `${story}.${createHmac('sha256', this.secret).update(story).digest('base64url').slice(0, 32)}`
  }

  private storyOf(key: string): string | undefined {
    const story = key.slice(0, key.indexOf('.'))
    if (!isUuid(story)) return undefined
    const own = Buffer.from(this.keyOf(story))
    const given = Buffer.from(key)
    return own.length === given.length && timingSafeEqual(own, given) ? story : undefined
  }

  /** A game is on the line; it says which story it plays, and with which key. */
  joinGame(socket: WebSocket): void {
    if (this.games >= this.limits.games) return socket.close(1013, 'too many games are joined')
    this.games += 1
    let game: Joined | undefined
    let room: Room | undefined
    const line = new Line(socket, this.limits, {
      gone: (why) => {
        this.games -= 1
        clearTimeout(silent)
        if (room === undefined || game === undefined) return
        room.games.delete(game.id)
        this.tell(room, 'left', { id: game.id, why })
        this.leave(room)
      },
      trouble: (message) => room && game && this.tell(room, 'trouble', { id: game.id, message }),
    })
    const silent = setTimeout(() => line.cut(1008, 'nothing was said: join first'), this.limits.silentMs)
    line.rpc.addMethod('join', async (params: unknown) => {
      const asked = read(joinSchema, params)
      if (game !== undefined) throw refusal('this game has joined already')
      const story = this.storyOf(asked.key)
      const kept = story === undefined ? undefined : await this.bundleOf(story)
      if (story === undefined || kept === undefined) {
        setTimeout(() => line.cut(1008, 'the key does not open any story'), 50)
        throw refusal('the key does not open any story here; copy it from the Export view of the story')
      }
      clearTimeout(silent)
      room = this.room(story, kept.revision)
      game = { id: String(this.next++), name: asked.name, line }
      room.games.set(game.id, game)
      this.tell(room, 'joined', { id: game.id, name: game.name })
      const { title } = kept.bundle
      return { title, revision: kept.revision, bundle: asked.wantsBundle ? kept.bundle : null }
    })
    line.rpc.addMethod('state', (params: unknown) => {
      if (game === undefined || room === undefined) throw refusal('join first')
      const state = gameStateSchema.safeParse(params)
      if (!state.success) {
        const [issue] = state.error.issues
        const message = `its state can not be understood: ${issue?.path.join('.') ?? ''}: ${issue?.message ?? ''}`
        line.strike(message)
        throw refusal(message)
      }
      game = Object.assign(game, { state: state.data })
      this.tell(room, 'state', { id: game.id, state: state.data })
      return null
    })
  }

  /** A window of this application is on the line; it says which story it shows, if it may read it. */
  joinWindow(socket: WebSocket, mayRead: (story: string) => Promise<boolean>): void {
    if (this.windows >= this.limits.windows) return socket.close(1013, 'too many windows are open')
    this.windows += 1
    let room: Room | undefined
    const line = new Line(socket, this.limits, {
      gone: () => {
        this.windows -= 1
        deaf()
        room?.windows.delete(line)
        if (room !== undefined) this.leave(room)
      },
    })
    const cut = () => line.cut(1008, 'you may not read this story any more')
    const deaf = this.store.onAccess(() => {
      if (room !== undefined) mayRead(room.story).then((may) => !may && cut(), cut)
    })
    line.rpc.addMethod('watch', async (params: unknown) => {
      const { story } = read(watchSchema, params)
      if (!(await mayRead(story))) throw refusal('there is no such story')
      const revision = await this.store.ask('revisionOf', story)
      if (revision === undefined) throw refusal('there is no such story')
      room ??= this.room(story, revision)
      room.windows.add(line)
      const games = [...room.games.values()].map(({ id, name, state }) => ({ id, name, state }))
      return { key: this.keyOf(story), games }
    })
    line.rpc.addMethod('send', async (params: unknown): Promise<Took> => {
      const { game, save } = read(sendSchema, params)
      const joined = room?.games.get(game)
      if (joined === undefined) throw refusal('this game is not on the line any more')
      return read(tookSchema, await joined.line.request('go', { save }))
    })
  }

  private room(story: string, revision: number): Room {
    const known = this.rooms.get(story)
    if (known !== undefined) return known
    const room: Room = {
      story,
      games: new Map(),
      windows: new Set(),
      stopListening: () => undefined,
      telling: undefined,
      revision,
    }
    room.stopListening = this.store.listen(story, () => {
      room.telling ??= setTimeout(() => {
        room.telling = undefined
        void this.update(room)
      }, this.limits.quietMs)
    })
    this.rooms.set(story, room)
    return room
  }

  private leave(room: Room): void {
    if (room.games.size + room.windows.size > 0) return
    room.stopListening()
    clearTimeout(room.telling)
    this.rooms.delete(room.story)
  }

  /** Brings the story as it is now into every game, and tells the windows what that did there. */
  private async update(room: Room): Promise<void> {
    if (room.games.size === 0) return
    const kept = await this.bundleOf(room.story).catch(() => undefined)
    if (kept === undefined || kept.revision <= room.revision) return
    room.revision = kept.revision
    const { revision, bundle } = kept
    await Promise.all(
      [...room.games.values()].map(async ({ id, line }) => {
        try {
          const took = read(tookSchema, await line.request('changed', { revision, bundle }))
          this.tell(room, 'took', { id, revision, took })
        } catch (error) {
          this.tell(room, 'took', { id, revision, failed: error instanceof Error ? error.message : 'no answer' })
        }
      }),
    )
  }

  private async bundleOf(story: string): Promise<{ revision: number; bundle: Bundle } | undefined> {
    const kept = await keptStory(this.store, story)
    return kept && { revision: kept.revision, bundle: writeBundle(kept.linked) }
  }

  private tell(room: Room, method: string, params: unknown): void {
    for (const window of room.windows) window.notify(method, params)
  }
}

function read<T>(schema: z.ZodType<T>, params: unknown): T {
  const checked = schema.safeParse(params)
  if (checked.success) return checked.data
  const [issue] = checked.error.issues
  throw refusal(`${issue?.path.join('.') ?? ''}: ${issue?.message ?? 'not as expected'}`)
}
