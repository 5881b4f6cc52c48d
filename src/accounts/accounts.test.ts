import type { StoreClient } from '../store/worker/client'
import { accountSettings } from './settings'
import { makeSignIn } from './sign-in'

const database = { PAPER_COMPASS_DATABASE_URL: 'postgres://compass@db.example/compass' }

describe('the settings of accounts', () => {
  const read = (env: Record<string, string>) => accountSettings(env)

  test('there are none without a server’s database, or where they are turned off', () => {
    expect(read({ PORT: '3000' })).toEqual({ ok: true, value: undefined })
    expect(read({ ...database, PAPER_COMPASS_ACCOUNTS: 'off' })).toEqual({ ok: true, value: undefined })
  })

  test('where one is reached is what is set, or where it listens', () => {
    const url = (env: Record<string, string>) => {
      const settings = read({ ...database, ...env })
      return settings.ok ? settings.value?.url : settings.error
    }
    expect(url({ HOST: '::1', PORT: '80' })).toBe('http://[::1]')
    expect(url({})).toBe('http://127.0.0.1:3000')
    expect(url({ PAPER_COMPASS_URL: 'https://desk.example/ ' })).toBe('https://desk.example')
    for (const wrong of ['desk.example', 'ftp://desk.example', 'https://desk.example/compass'])
      expect(url({ PAPER_COMPASS_URL: wrong })).toContain(`PAPER_COMPASS_URL is "${wrong}"`)
  })

  test('a studio’s sign-in is whole or not at all', () => {
    const issuer = { PAPER_COMPASS_OIDC_ISSUER: 'https://id.example/' }
    expect(read({ ...database, ...issuer })).toMatchObject({ ok: false })
    expect(read({ ...database, PAPER_COMPASS_OIDC_CLIENT: 'x' })).toMatchObject({ ok: false })
    expect(read({ ...database, ...issuer, PAPER_COMPASS_OIDC_CLIENT: 'x' })).toMatchObject({
      value: { provider: { name: 'id.example', issuer: 'https://id.example', client: 'x', secret: undefined } },
    })
    expect(read({ ...database, PAPER_COMPASS_ACCOUNTS: 'yes' })).toMatchObject({ ok: false })
  })
})

test('a session’s cookie can’t be read by scripts, is not sent by other pages, and only encrypted where the page is', async () => {
  const store = { ask: () => Promise.resolve(undefined) } as unknown as StoreClient
  for (const url of ['http://127.0.0.1:3000', 'https://desk.example']) {
    const settings = {
      database: database.PAPER_COMPASS_DATABASE_URL,
      url,
      provider: undefined,
      tries: { signIns: 10, links: 60 },
    }
    const { auth, close } = makeSignIn(settings, store, 'a secret of more than thirty-two signs')
    const { sessionToken } = (await auth.$context).authCookies
    expect(sessionToken.attributes).toMatchObject({
      httpOnly: true,
      sameSite: 'lax',
      path: '/',
      secure: url.startsWith('https:'),
    })
    await close()
  }
})
