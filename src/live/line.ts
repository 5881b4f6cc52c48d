import { JSONRPCErrorException, type JSONRPCServerAndClient } from 'json-rpc-2.0'
import type { WebSocket } from 'ws'
import { rpcEnd } from '../core/contract/rpc'
import type { LiveLimits } from './limits'

/** JSON-RPC 2.0, its error codes. */
const PARSE_ERROR = -32700
const INVALID = -32602

/** One end of the live line: says and hears JSON-RPC, and knows whether the other is still there. */
export class Line {
  readonly rpc: JSONRPCServerAndClient
  private isAlive = true
  private strikes = 0
  private heard = 0
  private second = 0
  private readonly pinging: NodeJS.Timeout

  constructor(
    private readonly socket: WebSocket,
    private readonly limits: LiveLimits,
    private readonly hooks: { readonly gone: (why: string) => void; readonly trouble?: (message: string) => void },
  ) {
    this.rpc = rpcEnd((text) => this.write(text))
    let why = ''
    socket.on('message', (data, isBinary) => this.hear(isBinary ? undefined : (data as Buffer).toString('utf8')))
    socket.on('pong', () => (this.isAlive = true))
    socket.on('error', (error) => (why = error.message))
    socket.on('close', (_code, reason) => {
      clearInterval(this.pinging)
      this.rpc.rejectAllPendingRequests('the line was closed')
      hooks.gone(why || reason.toString() || 'it went away')
    })
    this.pinging = setInterval(() => {
      if (!this.isAlive) return this.cut(1001, 'it does not answer any more')
      this.isAlive = false
      socket.ping()
    }, limits.pingMs)
    this.pinging.unref()
  }

  notify(method: string, params: unknown): void {
    this.rpc.notify(method, params)
  }

  request(method: string, params: unknown): Promise<unknown> {
    return Promise.resolve(this.rpc.timeout(this.limits.answerMs).request(method, params))
  }

  cut(code: number, why: string): void {
    this.socket.close(code, why.slice(0, 100))
    // one that does not even hear that
    setTimeout(() => this.socket.terminate(), 1_000).unref()
  }

  /** Counts something that should not have come; too many end the line. */
  strike(message: string): void {
    this.strikes += 1
    this.hooks.trouble?.(message)
    if (this.strikes >= this.limits.strikes) this.cut(1008, `too much that can not be understood: ${message}`)
  }

  private hear(text: string | undefined): void {
    const second = Math.floor(performance.now() / 1000)
    if (second !== this.second) {
      this.second = second
      this.heard = 0
    }
    this.heard += 1
    if (this.heard > this.limits.perSecond) {
      if (this.heard === this.limits.perSecond + 1)
        this.strike(`more than ${this.limits.perSecond} messages in a second: those beyond are not read`)
      return
    }
    let payload: unknown
    try {
      payload = JSON.parse(text ?? '')
    } catch {
      this.write(
        JSON.stringify({ jsonrpc: '2.0', id: null, error: { code: PARSE_ERROR, message: 'this is not JSON text' } }),
      )
      this.strike('a message that is not JSON text')
      return
    }
    // what is not JSON-RPC is answered as the standard has it
    void Promise.resolve(this.rpc.receiveAndSend(payload as never)).catch(() =>
      this.strike('a message that is not JSON-RPC 2.0'),
    )
  }

  private write(text: string): void {
    if (this.socket.readyState !== this.socket.OPEN) throw new Error('the line is closed')
    if (this.socket.bufferedAmount > this.limits.backlogBytes) {
      this.cut(1008, 'it does not read what it is sent')
      return
    }
    this.socket.send(text)
  }
}

/** What is answered to something that is not as it should be. */
export function refusal(message: string): JSONRPCErrorException {
  return new JSONRPCErrorException(message, INVALID)
}
