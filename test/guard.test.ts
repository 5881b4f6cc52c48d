import { metricsAt, routeOf } from '../scripts/observe.mjs'
import { allowedHosts, isHere, listed, refusal, setClient } from '../scripts/guard.mjs'

const ask = (host: string | undefined, origin: string | undefined, hosts: Set<string>) =>
  refusal({ headers: { host, origin } }, hosts)

test('only its own names and pages are answered', () => {
  const hosts = allowedHosts('127.0.0.1', 3000)
  expect(ask('127.0.0.1:3000', undefined, hosts)).toBeUndefined()
  expect(ask('LOCALHOST:3000', 'http://localhost:3000', hosts)).toBeUndefined()
  expect(ask('[::1]:3000', undefined, hosts)).toBeUndefined()
  for (const host of ['evil.example', '127.0.0.1', '127.0.0.1:3001', 'localhost:3000.evil.example', '', undefined]) {
    expect(ask(host, undefined, hosts)).toMatchObject({ status: 403, why: expect.stringContaining('does not answer') })
  }
  for (const origin of [
    'http://evil.example',
    'null',
    'http://localhost:3001',
    'file://',
    'http://localhost:3000.evil.example',
    'http://localhost:3000/',
  ]) {
    expect(ask('localhost:3000', origin, hosts)).toMatchObject({
      status: 403,
      why: expect.stringContaining('other pages'),
    })
  }
})

test('a host of one’s own choice is answered, an open address alone is not a name', () => {
  expect(allowedHosts('desk.local', 80)).toEqual(
    new Set([
      '127.0.0.1',
      '127.0.0.1:80',
      'localhost',
      'localhost:80',
      '[::1]',
      '[::1]:80',
      'desk.local',
      'desk.local:80',
    ]),
  )
  expect(allowedHosts('0.0.0.0', 3000).has('0.0.0.0:3000')).toBe(false)
  process.env.PAPER_COMPASS_HOSTS = 'desk.example:3000, '
  expect(allowedHosts('0.0.0.0', 3000).has('desk.example:3000')).toBe(true)
  delete process.env.PAPER_COMPASS_HOSTS
})

test('what another page asks for is refused without an Origin too, but a link to a page may be followed', () => {
  const hosts = allowedHosts('127.0.0.1', 3000)
  const from = (url: string, headers: Record<string, string>, method = 'GET') =>
    refusal({ method, url, headers: { host: '127.0.0.1:3000', ...headers } }, hosts)?.status
  const link = { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate', 'sec-fetch-dest': 'document' }
  expect(from('/', link)).toBeUndefined()
  expect(from('/', { ...link, 'sec-fetch-dest': 'iframe' })).toBe(403)
  expect(from('/', { 'sec-fetch-site': 'same-site', 'sec-fetch-mode': 'no-cors', 'sec-fetch-dest': 'image' })).toBe(403)
  expect(from('/api/stories', link)).toBe(403)
  expect(from('/api/stories', { 'sec-fetch-site': 'same-origin' })).toBeUndefined()
  expect(from('/api/stories', { 'sec-fetch-site': 'none' })).toBeUndefined()
})

test('only what the application itself does is done', () => {
  const hosts = allowedHosts('127.0.0.1', 3000)
  const ask = (method: string, url: string) =>
    refusal({ method, url, headers: { host: '127.0.0.1:3000' } }, hosts)?.status
  for (const method of ['POST', 'PUT', 'DELETE', 'TRACE', 'OPTIONS', 'PATCH']) expect(ask(method, '/story/x')).toBe(405)
  for (const method of ['PUT', 'TRACE', 'OPTIONS', 'PATCH']) expect(ask(method, '/api/stories')).toBe(405)
  for (const method of ['GET', 'POST', 'DELETE']) expect(ask(method, '/api/stories')).toBeUndefined()
  for (const url of ['http://127.0.0.1:3000/', '//evil.example/', '*', '/api/stories?q=%00', '/a\0b'])
    expect(ask('GET', url)).toBe(400)
  for (const url of ['/_next/image?url=x', '/_next/webpack-hmr', '/__nextjs_original-stack-frames'])
    expect(ask('GET', url)).toBe(404)
  expect(ask('GET', `/?${'x'.repeat(5000)}`)).toBe(414)
})

test('from where somebody comes is what the network says; of a proxy that is listed, what that one says', () => {
  const proxies = new Set(listed('10.0.0.2, 10.0.0.3'))
  const from = (remoteAddress: string, headers: Record<string, string>) => {
    const request = {
      socket: { remoteAddress },
      headers: { host: 'inside:3000', ...headers } as Record<string, string>,
    }
    setClient(request, proxies)
    return request.headers
  }
  expect(from('203.0.113.9', { 'x-client-address': '127.0.0.1', 'x-forwarded-for': '127.0.0.1' })).toEqual({
    host: 'inside:3000',
    'x-client-address': '203.0.113.9',
  })
  // whatever a client said of itself stands before what the proxies have seen
  const chain = { 'x-forwarded-for': '127.0.0.1, 198.51.100.4, 10.0.0.3', 'x-forwarded-host': 'desk.example' }
  expect(from('::ffff:10.0.0.2', chain)).toEqual({ host: 'desk.example', 'x-client-address': '198.51.100.4' })
  expect(from('203.0.113.9', chain)['host']).toBe('inside:3000')
  expect(from('10.0.0.2', {})['x-client-address']).toBe('10.0.0.2')
})

test('a studio’s sign-in may send people back, and nothing else of signing in can be asked from elsewhere', () => {
  const hosts = allowedHosts('127.0.0.1', 3000)
  const link = { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate', 'sec-fetch-dest': 'document' }
  const from = (method: string, url: string) =>
    refusal({ method, url, headers: { host: '127.0.0.1:3000', ...link } }, hosts)?.status
  expect(from('GET', '/auth/callback/studio?code=x')).toBeUndefined()
  expect(from('POST', '/auth/callback/studio')).toBe(403)
  expect(from('GET', '/auth/sign-in/email')).toBe(403)
  for (const host of ['127.0.0.1', '127.1.2.3', 'localhost', '::1']) expect(isHere(host)).toBe(true)
  for (const host of ['0.0.0.0', '::', '10.0.0.1', '127.0.0.1.example', 'desk.local']) expect(isHere(host)).toBe(false)
})

test('a request is known by its kind, and not by whose it is', () => {
  const id = '0f8fad5b-d9cb-469f-a165-70867728950e'
  expect(routeOf(`/api/stories/${id}/at/12?x=secret`)).toBe('/api/stories/:id/at/:revision')
  expect(routeOf('/join?key=secret')).toBe('/join')
  expect(routeOf('/_next/static/chunks/a.js')).toBe('/_next')
  for (const url of ['/wp-login', '/apiary', '//x', '']) expect(routeOf(url)).toBe('other')
  expect([metricsAt(), metricsAt('off'), metricsAt('9464'), metricsAt('[::1]:9464')]).toEqual([
    undefined,
    undefined,
    { host: '127.0.0.1', port: 9464 },
    { host: '::1', port: 9464 },
  ])
  for (const wrong of ['x', '0', '70000', 'host:']) expect(() => metricsAt(wrong)).toThrow('expected a port')
})
