import { randomBytes } from 'node:crypto'

/** Names under which this server answers; anything else is somebody else's page pointed at us. */
export function allowedHosts(host, port) {
  const names = ['127.0.0.1', 'localhost', '[::1]']
  if (!['0.0.0.0', '::', ...names].includes(host)) names.push(host.includes(':') ? `[${host}]` : host)
  const own = names.flatMap((name) => (port === 80 ? [name, `${name}:80`] : [`${name}:${port}`]))
  const extra = listed(process.env.PAPER_COMPASS_HOSTS)
  const url = process.env.PAPER_COMPASS_URL?.trim()
  if (url && URL.canParse(url)) extra.push(new URL(url).host)
  return new Set([...own, ...extra])
}

/** What a setting lists, separated by commas. */
export function listed(setting = '') {
  return setting
    .split(',')
    .map((one) => one.trim().toLowerCase())
    .filter((one) => one !== '')
}

/** Whether a server that listens there is reached from this machine alone. */
export function isHere(host) {
  return ['localhost', '::1'].includes(host) || /^127(\.\d{1,3}){3}$/.test(host)
}

/**
 * Says in `x-client-address` from where a request comes, whatever was sent there, and answers it. What a proxy forwards is believed only
 * of the addresses that are listed: the client is then the last one of the chain that is not one of them.
 */
export function setClient(request, proxies) {
  const plain = (address = '') => address.replace(/^::ffff:/, '')
  const { headers } = request
  let client = plain(request.socket.remoteAddress)
  if (proxies.has(client)) {
    const chain = String(headers['x-forwarded-for'] ?? '')
      .split(',')
      .map((one) => plain(one.trim()))
      .filter((one) => one !== '')
    client = chain.findLast((one) => !proxies.has(one)) ?? client
    const [host] = String(headers['x-forwarded-host'] ?? '').split(',')
    if (host.trim() !== '') headers.host = host.trim()
  }
  for (const name of Object.keys(headers)) if (/^(x-forwarded-|forwarded$|x-real-ip$)/.test(name)) delete headers[name]
  headers['x-client-address'] = client
  return client
}

/** What the application never asks for, and so nobody else: development's tools, pictures made smaller. */
const CLOSED = /^\/(_next\/image|_next\/webpack-hmr|__nextjs)/

/** Pages for readers: a story that is played, copies and scripts to print. Each has a policy of its own in it. */
const FOR_READERS = /^(?:\/story\/[^/]+\/play|\/api\/stories\/[^/]+\/(?:copy|voices))$/

/**
 * Why a request is refused, with the status to say so, or undefined. A foreign Host, Origin or Sec-Fetch-Site means that
 * another page is asking; only a link to one of our pages may be followed from there.
 */
export function refusal(request, hosts, { dev = false } = {}) {
  const { method = 'GET', url = '/' } = request
  const no = (status, why) => ({ status, why })
  const host = (request.headers.host ?? '').toLowerCase()
  if (!hosts.has(host)) return no(403, `This server does not answer to the name "${host.slice(0, 200)}".`)
  if (!url.startsWith('/') || url.startsWith('//')) return no(400, 'A path of this server is expected.')
  if (url.length > 4000) return no(414, 'This address is too long.')
  // also where it stands encoded: the database takes none, nor does any path here have one
  if (/%00|\0/.test(url)) return no(400, 'An address has no NUL in it.')
  const path = url.split('?')[0]
  if (!dev && CLOSED.test(path)) return no(404, 'There is nothing here.')
  const isSignIn = path.startsWith('/auth/')
  const isApi = path.startsWith('/api/') || isSignIn
  const allowed = isApi ? ['GET', 'HEAD', 'POST', 'DELETE'] : ['GET', 'HEAD']
  if (!allowed.includes(method)) return no(405, `${method} is not done here.`)
  const { origin } = request.headers
  if (origin !== undefined) {
    const from = /^https?:\/\/(.+)$/.exec(origin.toLowerCase())?.[1]
    if (from === undefined || !hosts.has(from)) return no(403, 'Requests from other pages are refused.')
  }
  const site = request.headers['sec-fetch-site']
  if (site !== undefined && !['same-origin', 'none'].includes(site)) {
    // a studio's own sign-in sends people back
    const isBack = isSignIn && method === 'GET' && path.startsWith('/auth/callback/')
    const isLink =
      (!isApi || isBack) &&
      request.headers['sec-fetch-mode'] === 'navigate' &&
      request.headers['sec-fetch-dest'] === 'document'
    if (!isLink) return no(403, 'Requests from other pages are refused.')
  }
  return undefined
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
  // whoever has to sign in comes back there
  request.headers['x-path'] = request.url
  // their policy allows what stands in them, and nothing else
  const isForReaders = FOR_READERS.test((request.url ?? '').split('?')[0])
  response.setHeader('Content-Security-Policy', isForReaders ? "frame-ancestors 'none'" : policy)
  response.appendHeader('Vary', 'Sec-Fetch-Dest')
  response.setHeader('X-Content-Type-Options', 'nosniff')
  response.setHeader('Referrer-Policy', 'same-origin')
  response.setHeader('Cross-Origin-Opener-Policy', 'same-origin')
  response.setHeader('Cross-Origin-Embedder-Policy', 'require-corp')
  response.setHeader('Cross-Origin-Resource-Policy', 'same-origin')
}
