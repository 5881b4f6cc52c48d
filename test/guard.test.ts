import { allowedHosts, refusal } from '../scripts/guard.mjs'

const ask = (host: string | undefined, origin: string | undefined, hosts: Set<string>) =>
  refusal({ headers: { host, origin } }, hosts)

test('only its own names and pages are answered', () => {
  const hosts = allowedHosts('127.0.0.1', 3000)
  expect(ask('127.0.0.1:3000', undefined, hosts)).toBeUndefined()
  expect(ask('LOCALHOST:3000', 'http://localhost:3000', hosts)).toBeUndefined()
  expect(ask('[::1]:3000', undefined, hosts)).toBeUndefined()
  for (const host of ['evil.example', '127.0.0.1', '127.0.0.1:3001', 'localhost:3000.evil.example', '', undefined]) {
    expect(ask(host, undefined, hosts)).toContain('does not answer')
  }
  for (const origin of [
    'http://evil.example',
    'null',
    'http://localhost:3001',
    'file://',
    'http://localhost:3000.evil.example',
    'http://localhost:3000/',
  ]) {
    expect(ask('localhost:3000', origin, hosts)).toContain('other pages')
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
