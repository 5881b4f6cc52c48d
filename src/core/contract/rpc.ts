import { JSONRPCClient, JSONRPCServer, JSONRPCServerAndClient } from 'json-rpc-2.0'

/** One end of a JSON-RPC 2.0 connection over text messages. What fails in a method is answered, and logged nowhere. */
export function rpcEnd(send: (text: string) => void): JSONRPCServerAndClient {
  const quiet = { errorListener: () => undefined }
  return new JSONRPCServerAndClient(
    new JSONRPCServer(quiet),
    new JSONRPCClient((payload) => send(JSON.stringify(payload))),
    quiet,
  )
}

/** Hears a message; what is no JSON, or no JSON-RPC, is passed over. */
export function hearQuietly(rpc: JSONRPCServerAndClient, text: string): void {
  try {
    void rpc.receiveAndSend(JSON.parse(text) as never).catch(() => undefined)
  } catch {
    // of somebody else's making
  }
}
