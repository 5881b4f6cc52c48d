import { betterAuth } from 'better-auth'
import { APIError, createAuthMiddleware } from 'better-auth/api'
import { genericOAuth } from 'better-auth/plugins'
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import { PASSWORD_LEAST } from '../core/contract/access'
import type { StoreClient } from '../store/worker/client'
import type { AccountSettings } from './settings'

/** What the server itself says from where a request comes; nobody else can set it. */
export const ADDRESS_HEADER = 'x-client-address'
/** The studio's own sign-in, as it stands in addresses. */
export const PROVIDER = 'studio'
/** How long one stays signed in without coming back, and how often that is noted, in seconds. */
const SESSION_SECONDS = 30 * 24 * 60 * 60
const NOTED_SECONDS = 60 * 60
/** Connections for signing in, beside those of the store. */
const CONNECTIONS = 3
/** A studio's own sign-in, which comes from one address for all, is tried so many times as often. */
const STUDIO_TIMES = 6

/** Passwords, sessions, and a studio's own sign-in, in the tables of the store. */
export function makeSignIn(settings: AccountSettings, store: StoreClient, secret: string) {
  const { url, provider, tries } = settings
  const pool = new pg.Pool({
    connectionString: settings.database,
    application_name: 'paper-compass-sign-in',
    connectionTimeoutMillis: 5_000,
    keepAlive: true,
    max: CONNECTIONS,
  })
  pool.on('error', () => undefined)
  // a connection that is lost while it is used says so twice: to whoever uses it, and here
  pool.on('connect', (client) => client.on('error', () => undefined))
  const changed = (member: string) => store.ask('sayChanged', member).catch(() => undefined)
  const auth = betterAuth({
    appName: 'Paper Compass',
    baseURL: url,
    basePath: '/auth',
    secret,
    database: pool,
    telemetry: { enabled: false },
    onAPIError: { errorURL: '/sign-in' },
    // what it would say may hold an address or a name
    logger: { disabled: true },
    trustedOrigins: (request) => [request === undefined ? url : originOf(request)],
    emailAndPassword: {
      enabled: true,
      disableSignUp: true,
      minPasswordLength: PASSWORD_LEAST,
      maxPasswordLength: 200,
    },
    user: {
      modelName: 'member',
      fields: { emailVerified: 'email_verified', createdAt: 'created_at', updatedAt: 'updated_at' },
    },
    session: {
      modelName: 'member_session',
      fields: {
        userId: 'member_id',
        expiresAt: 'expires_at',
        ipAddress: 'ip_address',
        userAgent: 'user_agent',
        createdAt: 'created_at',
        updatedAt: 'updated_at',
      },
      expiresIn: SESSION_SECONDS,
      updateAge: NOTED_SECONDS,
    },
    account: {
      modelName: 'member_account',
      fields: {
        userId: 'member_id',
        accountId: 'account_id',
        providerId: 'provider_id',
        accessToken: 'access_token',
        refreshToken: 'refresh_token',
        idToken: 'id_token',
        accessTokenExpiresAt: 'access_token_expires_at',
        refreshTokenExpiresAt: 'refresh_token_expires_at',
        createdAt: 'created_at',
        updatedAt: 'updated_at',
      },
      // who signs in elsewhere is taken for a member only where that member has said so
      accountLinking: { enabled: true, disableImplicitLinking: true, allowDifferentEmails: true },
    },
    verification: {
      modelName: 'member_verification',
      fields: { expiresAt: 'expires_at', createdAt: 'created_at', updatedAt: 'updated_at' },
    },
    rateLimit: {
      enabled: true,
      storage: 'database',
      modelName: 'attempt',
      fields: { lastRequest: 'last_request' },
      customRules: {
        '/sign-in/email': { window: 60, max: tries.signIns },
        '/change-password': { window: 60, max: tries.signIns },
        // a studio comes from one address
        '/sign-in/social': { window: 60, max: tries.signIns * STUDIO_TIMES },
      },
    },
    advanced: {
      cookiePrefix: 'paper-compass',
      useSecureCookies: url.startsWith('https:'),
      database: { generateId: () => randomUUID() },
      ipAddress: { ipAddressHeaders: [ADDRESS_HEADER] },
      defaultCookieAttributes: { sameSite: 'lax', httpOnly: true },
    },
    databaseHooks: {
      user: {
        create: {
          // the first comes in by the server's key, not by the studio's sign-in
          before: async (_made, context) => {
            if (context?.path.startsWith('/callback') === true && (await store.ask('firstKey')) !== undefined)
              throw new APIError('FORBIDDEN', { code: 'NO_OWNER', message: 'This server has no owner yet.' })
          },
        },
      },
      session: {
        create: {
          before: async ({ userId }) => {
            if ((await store.ask('find', userId)) === undefined)
              throw new APIError('FORBIDDEN', { code: 'NOT_HERE', message: 'You have no account here any more.' })
          },
          after: async ({ userId, ipAddress }) => {
            const member = await store.ask('find', userId)
            if (member === undefined) return
            await store.ask('enter', { id: userId, name: member.name, address: ipAddress ?? undefined }, 'signed in')
          },
        },
        delete: { after: async ({ userId }) => changed(userId) },
      },
    },
    hooks: {
      after: createAuthMiddleware(async (context) => {
        const address = context.headers?.get(ADDRESS_HEADER) ?? undefined
        const failed = context.context.returned instanceof APIError
        if (context.path === '/sign-in/email' && failed) {
          const { email } = (context.body ?? {}) as { email?: unknown }
          const name = typeof email === 'string' ? email.slice(0, 200) : 'somebody'
          await store.ask('enter', { name, address }, 'could not sign in')
        }
        const user = context.context.session?.user
        if (user === undefined || failed) return
        const doer = { id: user.id, name: user.name, address }
        if (context.path === '/change-password') await store.ask('enter', doer, 'changed their password')
      }),
    },
    plugins:
      provider === undefined
        ? []
        : [
            genericOAuth({
              config: [
                {
                  providerId: PROVIDER,
                  discoveryUrl: `${provider.issuer}/.well-known/openid-configuration`,
                  clientId: provider.client,
                  clientSecret: provider.secret,
                  scopes: ['openid', 'email', 'profile'],
                  requireIdTokenVerification: true,
                  disableProviderLogout: true,
                },
              ],
            }),
          ],
  })
  return { auth, close: () => pool.end() }
}

export type SignIn = ReturnType<typeof makeSignIn>

/** The guard has checked it: a foreign one does not come this far. */
function originOf(request: Request): string {
  return request.headers.get('origin') ?? new URL(request.url).origin
}
