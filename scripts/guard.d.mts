import type { ServerResponse } from 'node:http'

interface Asked {
  readonly method?: string | undefined
  readonly url?: string | undefined
  readonly headers: {
    host?: string | undefined
    origin?: string | undefined
    [name: string]: string | string[] | undefined
  }
}

interface From extends Asked {
  readonly socket: { readonly remoteAddress?: string | undefined }
}

export function listed(setting?: string): string[]
export function isHere(host: string): boolean
export function setClient(request: From, proxies: ReadonlySet<string>): string
export function allowedHosts(host: string, port: number): Set<string>
export function refusal(
  request: Asked,
  hosts: ReadonlySet<string>,
  options?: { dev?: boolean },
): { readonly status: number; readonly why: string } | undefined
export function setHeaders(request: Asked, response: ServerResponse, options: { dev: boolean }): void
