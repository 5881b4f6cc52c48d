import { numberSetting } from '../core/base/number-setting'
import { fail, ok, type Result } from '../core/base/result'

/** A studio's own sign-in, by OpenID Connect. */
export interface Provider {
  readonly name: string
  readonly issuer: string
  readonly client: string
  readonly secret: string | undefined
}

/** How people come in; none where one works alone. */
export interface AccountSettings {
  /** The address of a database of a PostgreSQL server, which keeps the accounts. */
  readonly database: string
  /** Where the application is reached, without a slash at its end. */
  readonly url: string
  readonly provider: Provider | undefined
  /** How often one address may try to sign in within a minute, and to use a link within ten. */
  readonly tries: { readonly signIns: number; readonly links: number }
}

type Environment = Readonly<Record<string, string | undefined>>

/** Reads the settings: `undefined` where there are no accounts; or says which one is wrong. */
export function accountSettings(env: Environment): Result<AccountSettings | undefined, string> {
  const set = (name: string) => env[`PAPER_COMPASS_${name}`]?.trim() || undefined
  const database = set('DATABASE_URL')
  const wanted = set('ACCOUNTS') ?? 'on'
  if (wanted !== 'on' && wanted !== 'off') return fail(`PAPER_COMPASS_ACCOUNTS is "${wanted}"; expected on or off`)
  if (database === undefined || wanted === 'off') return ok(undefined)
  const url = readUrl(set('URL') ?? `http://${hostIn(env)}:${env.PORT || 3000}`)
  if (url === undefined)
    return fail(`PAPER_COMPASS_URL is "${set('URL')}"; expected an address such as https://compass.example`)
  const provider = readProvider(set)
  if (!provider.ok) return provider
  const signIns = numberSetting(env, 'PAPER_COMPASS_SIGN_INS', 10)
  if (!signIns.ok) return signIns
  const links = numberSetting(env, 'PAPER_COMPASS_LINKS', 60)
  if (!links.ok) return links
  return ok({ database, url, provider: provider.value, tries: { signIns: signIns.value, links: links.value } })
}

function hostIn({ HOST }: Environment): string {
  const host = HOST || '127.0.0.1'
  return host.includes(':') ? `[${host}]` : host
}

function readUrl(text: string): string | undefined {
  if (!URL.canParse(text)) return undefined
  const { protocol, pathname, origin } = new URL(text)
  return /^https?:$/.test(protocol) && pathname === '/' ? origin : undefined
}

function readProvider(set: (name: string) => string | undefined): Result<Provider | undefined, string> {
  const issuer = set('OIDC_ISSUER')
  const client = set('OIDC_CLIENT')
  if (issuer === undefined && client === undefined) return ok(undefined)
  if (issuer === undefined || client === undefined)
    return fail('PAPER_COMPASS_OIDC_ISSUER and PAPER_COMPASS_OIDC_CLIENT go together')
  if (!URL.canParse(issuer)) return fail(`PAPER_COMPASS_OIDC_ISSUER is "${issuer}"; expected an address`)
  const name = set('OIDC_NAME') ?? new URL(issuer).hostname
  return ok({ name, issuer: issuer.replace(/\/$/, ''), client, secret: set('OIDC_SECRET') })
}
