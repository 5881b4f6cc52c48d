import type { JSONRPCServerAndClient } from 'json-rpc-2.0'
import type * as z from 'zod'
import { fail, ok, type Result } from '../core/base/result'
import { told, tookSchema, watchedSchema, type GameState, type Took } from '../core/contract/live'
import { hearQuietly, rpcEnd } from '../core/contract/rpc'
import type { Save } from '../core/play/read-save'

/** A line as a game said it, or what came between. */
export type Heard =
  | { readonly kind: 'line'; readonly name: string | undefined; readonly text: string; readonly manner: string }
  | { readonly kind: 'did'; readonly text: string }
  /** What an edit, or being sent somewhere, did there. */
  | { readonly kind: 'note'; readonly text: string }

/** A running game on the line. */
export interface LiveGame {
  readonly id: string
  readonly name: string
  readonly state: GameState | undefined
  /** What it was like a step before. */
  readonly before: GameState | undefined
  readonly heard: readonly Heard[]
}

export interface LiveState {
  /** By which a game joins; undefined until the line holds. */
  readonly key: string | undefined
  readonly games: readonly LiveGame[]
  /** The game that is followed, by its id. */
  readonly following: string | undefined
}

/** More of what a game said is not kept. */
const HEARD_MAX = 200
/** Until the line is tried again, in milliseconds. */
const AGAIN_MS = 3_000
const ANSWER_MS = 8_000

const OFF: LiveState = { key: undefined, games: [], following: undefined }

/** This window's end of the live line: the games that play this story, and what they say. */
export class LiveLine {
  private state = OFF
  private readonly listeners = new Set<() => void>()
  private rpc: JSONRPCServerAndClient | undefined
  private socket: WebSocket | undefined
  private timer: ReturnType<typeof setTimeout> | undefined
  private isClosed = false

  constructor(
    private readonly story: string,
    private readonly url: string,
  ) {
    this.open()
  }

  getState = (): LiveState => this.state

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  close(): void {
    this.isClosed = true
    clearTimeout(this.timer)
    this.socket?.close()
  }

  follow(game: string | undefined): void {
    this.set({ following: game })
  }

  /** Puts a game into a state; tells what became of it there. */
  async send(game: string, save: Save): Promise<Result<Took>> {
    if (this.rpc === undefined) return fail('the line to the game is not there')
    try {
      const answer = tookSchema.safeParse(await this.rpc.timeout(ANSWER_MS).request('send', { game, save }))
      if (!answer.success) return fail('the game answered with something that can not be understood')
      this.note(game, sayTook(answer.data, 'sent here'))
      return ok(answer.data)
    } catch (error) {
      return fail(error instanceof Error ? error.message : 'the game did not answer')
    }
  }

  private open(): void {
    const socket = new WebSocket(this.url)
    this.socket = socket
    const rpc = rpcEnd((text) => socket.send(text))
    const hear = <T>(method: string, schema: z.ZodType<T>, work: (params: T) => void) =>
      rpc.addMethod(method, (params: unknown) => {
        const read = schema.safeParse(params)
        if (read.success) work(read.data)
      })
    hear('joined', told.joined, ({ id, name }) =>
      this.set({ games: [...this.state.games, { id, name, state: undefined, before: undefined, heard: [] }] }),
    )
    hear('left', told.left, ({ id }) => {
      const { following, games } = this.state
      this.set({
        games: games.filter((game) => game.id !== id),
        following: following === id ? undefined : following,
      })
    })
    hear('state', told.state, ({ id, state }) =>
      this.change(id, (game) => ({ ...game, state, before: game.state, heard: heardOf(game, state) })),
    )
    hear('took', told.took, ({ id, took, failed }) =>
      this.note(
        id,
        took === undefined ? `the edit did not go in: ${failed ?? 'no answer'}` : sayTook(took, 'edit taken up'),
      ),
    )
    hear('trouble', told.trouble, ({ id, message }) => this.note(id, message))
    socket.onopen = () => {
      this.rpc = rpc
      void Promise.resolve(rpc.request('watch', { story: this.story })).then(
        (answer) => {
          const read = watchedSchema.safeParse(answer)
          if (!read.success) return
          const games = read.data.games.map(({ id, name, state }) => ({
            id,
            name,
            state,
            before: undefined,
            heard: state === undefined ? [] : linesIn(state),
          }))
          this.set({ key: read.data.key, games })
        },
        () => undefined,
      )
    }
    socket.onmessage = ({ data }) => hearQuietly(rpc, String(data))
    socket.onclose = () => {
      rpc.rejectAllPendingRequests('the line was closed')
      this.rpc = undefined
      if (this.isClosed) return
      this.set({ games: [] })
      this.timer = setTimeout(() => this.open(), AGAIN_MS)
    }
    socket.onerror = () => undefined
  }

  private note(id: string, text: string): void {
    this.change(id, (game) => ({ ...game, heard: kept([...game.heard, { kind: 'note', text }]) }))
  }

  private change(id: string, work: (game: LiveGame) => LiveGame): void {
    this.set({ games: this.state.games.map((game) => (game.id === id ? work(game) : game)) })
  }

  private set(part: Partial<LiveState>): void {
    this.state = { ...this.state, ...part }
    for (const listener of this.listeners) listener()
  }
}

function kept(heard: readonly Heard[]): readonly Heard[] {
  return heard.slice(-HEARD_MAX)
}

function linesIn({ lines }: GameState): Heard[] {
  return lines.map(({ name, text, manner }) => ({ kind: 'line', name, text, manner }))
}

/** What was said before, and what this state says; a state that no decision led to says the same lines anew. */
function heardOf(game: LiveGame, state: GameState): readonly Heard[] {
  const { did } = state
  if (did === null) {
    const lines = linesIn(state)
    const isSame = JSON.stringify(lines) === JSON.stringify(game.state && linesIn(game.state))
    return isSame ? game.heard : kept([...game.heard, ...lines])
  }
  const text =
    'choice' in did
      ? (game.state?.choices.find(({ id }) => id === did.choice)?.text ?? did.choice)
      : 'word' in did
        ? did.word
        : `the game: ${Object.entries(did.given)
            .map(([entry, value]) => `${entry} is ${String(value)}`)
            .join(', ')}`
  return kept([...game.heard, { kind: 'did', text }, ...linesIn(state)])
}

function sayTook({ moved, lost, revised }: Took, what: string): string {
  const more = [
    ...(moved ? ['its beat is gone: the game went to its place, or to the start'] : []),
    ...(revised ? ['what is on its screen is said otherwise now'] : []),
    ...(lost.length > 0 ? [`it forgot ${lost.slice(0, 4).join(', ')}${lost.length > 4 ? ' …' : ''}`] : []),
  ]
  return more.length === 0 ? what : `${what}: ${more.join('; ')}`
}
