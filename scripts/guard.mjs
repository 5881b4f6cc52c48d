import { randomBytes } from 'node:crypto'

/** Names under which this server answers; anything else is somebody else's page pointed at us. */
export function allowedHosts(host, port) {
  const names = ['127.0.0.1', 'localhost', '[::1]']
  if (!['0.0.0.0', '::', ...names].includes(host)) names.push(host.includes(':') ? `[${host}]` : host)
  const own = names.flatMap((name) => (port === 80 ? [name, `${name}:80`] : [`${name}:${port}`]))
  const extra = (process.env.PAPER_COMPASS_HOSTS ?? '').split(',').map((name) => name.trim().toLowerCase())
  return new Set([...own, ...extra.filter((name) => name !== '')])
}

/** Why a request is refused, or undefined. A foreign Host or Origin means that another page is asking. */
export function refusal(request, hosts) {
  const host = (request.headers.host ?? '').toLowerCase()
  if (!hosts.has(host)) return `This server does not answer to the name "${host}".`
  const { origin } = request.headers
  if (origin === undefined) return undefined
  const from = /^https?:\/\/(.+)$/.exec(origin.toLowerCase())?.[1]
  return from !== undefined && hosts.has(from) ? undefined : 'Requests from other pages are refused.'
}

/** Sets the headers of every answer; gives the policy with this request's nonce. */
export function setHeaders(request, response, { dev }) {
  const nonce = randomBytes(16).toString('base64')
  // The survey's worker writes WebAssembly for the beats it looks at often, from numbers alone. Text
  // as code is allowed nowhere; development needs it for its own tools.
  const code = dev ? " 'unsafe-eval'" : request.headers['sec-fetch-dest'] === 'worker' ? " 'wasm-unsafe-eval'" : ''
  const policy = [
    "default-src 'none'",
    `script-src 'self' 'nonce-${nonce}'${code}`,
    // development inserts styles of its own, without the nonce
    dev ? "style-src 'self' 'unsafe-inline'" : `style-src 'self' 'nonce-${nonce}'`,
    // attributes only: where React places something, it sets the element's own style
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' data:",
    "font-src 'self'",
    `connect-src 'self'${dev ? ' ws:' : ''}`,
    "worker-src 'self'",
    "manifest-src 'self'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
    "object-src 'none'",
  ].join('; ')
  // Next reads the nonce for its own scripts from the request's policy.
  request.headers['content-security-policy'] = policy
  request.headers['x-nonce'] = nonce
  response.setHeader('Content-Security-Policy', policy)
  response.appendHeader('Vary', 'Sec-Fetch-Dest')
  response.setHeader('X-Content-Type-Options', 'nosniff')
  response.setHeader('Referrer-Policy', 'same-origin')
  response.setHeader('Cross-Origin-Opener-Policy', 'same-origin')
  response.setHeader('Cross-Origin-Embedder-Policy', 'require-corp')
  response.setHeader('Cross-Origin-Resource-Policy', 'same-origin')
}
