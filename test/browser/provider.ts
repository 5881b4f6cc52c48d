import { createServer, type Server } from 'node:http'
import Provider from 'oidc-provider'
import { freePort } from '../free-port'

/** A studio's own sign-in, by OpenID Connect: whoever says who they are is believed. */
export class StandInProvider {
  private constructor(
    private readonly server: Server,
    readonly issuer: string,
  ) {}

  static async start(application: string): Promise<StandInProvider> {
    const port = await freePort()
    const issuer = `http://127.0.0.1:${port}`
    const provider = new Provider(issuer, {
      clients: [
        {
          client_id: 'compass',
          client_secret: 'known to both',
          redirect_uris: [`${application}/auth/callback/studio`],
          token_endpoint_auth_method: 'client_secret_post',
        },
      ],
      claims: { openid: ['sub'], email: ['email', 'email_verified'], profile: ['name'] },
      findAccount: (_context, id) => ({
        accountId: id,
        claims: () => ({ sub: id, name: `${id} of the studio`, email: `${id}@studio.example`, email_verified: true }),
      }),
      cookies: { keys: ['for tests alone'] },
    })
    // what it warns of is meant for those who run it in earnest
    const server = createServer(provider.callback())
    await new Promise<void>((done) => server.listen(port, '127.0.0.1', done))
    return new StandInProvider(server, issuer)
  }

  get settings(): Readonly<Record<string, string>> {
    return {
      PAPER_COMPASS_OIDC_ISSUER: this.issuer,
      PAPER_COMPASS_OIDC_CLIENT: 'compass',
      PAPER_COMPASS_OIDC_SECRET: 'known to both',
      PAPER_COMPASS_OIDC_NAME: 'the studio account',
    }
  }

  close(): void {
    this.server.closeAllConnections()
    this.server.close()
  }
}
