import { allowedHosts, refusal } from '../scripts/guard.mjs'

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
