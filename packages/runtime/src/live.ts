import { JSONRPCErrorException, type JSONRPCServerAndClient } from 'json-rpc-2.0'
import { hearQuietly, rpcEnd } from '../../../src/core/contract/rpc'
import { loadBundle, RuntimeError, type Playthrough, type RouteItem, type Save } from './index'

export interface JoinOptions {
  /** As it stands in the Export view of the story. */
  readonly key: string
  /** What the game is called on the Desk. */
  readonly name: string
  /** `ws://127.0.0.1:3000/live` where nothing is given. */
  readonly url?: string
  /** In an engine without `WebSocket` its own kind of it. */
  readonly WebSocket?: new (url: string) => WebSocket
  /** Hears what happens on the line: `joined`, `changed` (the story was), `sent` (to a state), `lost`, with words for a log. */
  readonly onEvent?: (event: 'joined' | 'changed' | 'sent' | 'lost', message: string) => void
  /** Whether to try again when the line is lost; true where nothing is given. */
  readonly again?: boolean
}

export interface DeskLine {
  /** Leaves the line for good. */
  leave(): void
  readonly isJoined: boolean
}

/** Until the line is tried again, in milliseconds. */
const AGAIN_MS = 2_000
/** What a game gives is told together for so long: it may give something with every frame, in milliseconds. */
const GIVEN_MS = 100
/** More lines, choices and cues than these are not told. */
const TOLD_MAX = 500

/**
 * Joins a playthrough to the Desk: there one sees where it is and what it remembers; what is written there goes into it at
 * once. The game goes on whether the line holds or not.
 */
export function joinDesk(game: Playthrough, options: JoinOptions): DeskLine {
  const { key, name, url = 'ws://127.0.0.1:3000/live', onEvent, again = true } = options
  const Socket = options.WebSocket ?? globalThis.WebSocket
  if (Socket === undefined) throw new RuntimeError('live', 'there is no WebSocket here; hand one in')
  let socket: WebSocket | undefined
  let rpc: JSONRPCServerAndClient | undefined
  let isJoined = false
  let hasLeft = false
  let timer: ReturnType<typeof setTimeout> | undefined
  let did: RouteItem | null = null

  let waiting: ReturnType<typeof setTimeout> | undefined
  const tell = () => {
    if (did !== null && 'given' in did && game.lines.length === 0) waiting ??= setTimeout(tellNow, GIVEN_MS)
    else tellNow()
  }
  const tellNow = () => {
    clearTimeout(waiting)
    waiting = undefined
    if (!isJoined || rpc === undefined) return
    const { status, beat, lines, cues, choices, prompt, ending, ledger, stages, language } = game
    const say = lines.slice(-TOLD_MAX).map(({ text, name: speaker, manner, beat: at }) => ({
      text,
      ...(speaker === undefined ? {} : { name: speaker }),
      manner,
      beat: at,
    }))
    rpc
      .request('state', {
        status,
        beat: beat ?? null,
        lines: say,
        cues: cues.slice(-TOLD_MAX),
        choices: choices.slice(0, TOLD_MAX).map(({ id, text, open }) => ({ id, text, open })),
        prompt: prompt?.text ?? null,
        ending: ending?.id ?? null,
        ledger,
        stages,
        did,
        language,
      })
      .then(undefined, () => undefined)
    did = null
  }
  const took = (moved: boolean, lost: readonly string[], revised = false) => ({
    moved,
    lost: lost.slice(0, 1000),
    beat: game.beat ?? null,
    status: game.status,
    revised,
  })
  const note = (item: RouteItem) => {
    did = did !== null && 'given' in did && 'given' in item ? { given: { ...did.given, ...item.given } } : item
  }
  const stops = [game.on('did', note), game.on('rest', tell)]

  const open = () => {
    const made = new Socket(url)
    socket = made
    const own = rpcEnd((text) => made.send(text))
    rpc = own
    const refused = (error: unknown) => new JSONRPCErrorException(error instanceof Error ? error.message : 'no', -32000)
    const update = (bundle: object) => {
      let revised = false
      const stop = game.on('revised', () => void (revised = true))
      try {
        const { moved, lost } = game.update(loadBundle(bundle))
        return took(moved, lost, revised)
      } finally {
        stop()
      }
    }
    own.addMethod('changed', ({ bundle, revision }: { bundle: object; revision: number }) => {
      try {
        const answer = update(bundle)
        onEvent?.('changed', `the story is as after edit ${revision}`)
        return answer
      } catch (error) {
        throw refused(error)
      }
    })
    own.addMethod('go', ({ save }: { save: Save }) => {
      try {
        const { moved, lost } = game.load(save)
        onEvent?.('sent', `sent to ${game.beat ?? 'nowhere'}`)
        return took(moved, lost)
      } catch (error) {
        throw refused(error)
      }
    })
    made.onopen = () => {
      own.request('join', { key, name, wantsBundle: true }).then(
        (answer: { title: string; bundle: object }) => {
          isJoined = true
          try {
            update(answer.bundle)
          } catch {
            // it goes on with the story that it has
          }
          onEvent?.('joined', `on the line with “${answer.title}”`)
          tell()
        },
        (error: unknown) => {
          // a key that opens nothing will not open anything later
          hasLeft = true
          onEvent?.('lost', error instanceof Error ? error.message : 'the Desk refused')
          made.close()
        },
      )
    }
    made.onmessage = ({ data }) => hearQuietly(own, String(data))
    made.onclose = () => {
      const was = isJoined
      isJoined = false
      own.rejectAllPendingRequests('the line was closed')
      if (was) onEvent?.('lost', 'the line to the Desk was lost')
      if (!hasLeft && again) timer = setTimeout(open, AGAIN_MS)
    }
    // told by close as well
    made.onerror = () => undefined
  }
  open()
  return {
    leave() {
      hasLeft = true
      clearTimeout(timer)
      clearTimeout(waiting)
      for (const stop of stops) stop()
      socket?.close()
    },
    get isJoined() {
      return isJoined
    },
  }
}
