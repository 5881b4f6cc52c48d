import { NextResponse } from 'next/server'
import type { Account } from '../../../core/contract/access'
import { settings } from '../../server/access'
import { memberHandler } from '../../server/members'
import { PROVIDER } from '../../../accounts/sign-in'

/** One's own account: how one signs in, where one is signed in, and one's tokens. */
export const GET = memberHandler('self', async ({ seat, doer, store, signIn }) => {
  if (seat.kind !== 'member') throw new Error('it was let in without a member')
  const { internalAdapter } = await signIn.auth.$context
  const accounts = await internalAdapter.findAccounts(doer.id)
  const sessions = await internalAdapter.listSessions(doer.id)
  const has = (provider: string) => accounts.some(({ providerId }) => providerId === provider)
  const devices = sessions
    .filter(({ expiresAt }) => new Date(expiresAt) > new Date())
    .map(({ id, userAgent, ipAddress, createdAt, updatedAt }) => ({
      id,
      isThis: id === seat.session,
      device: userAgent ?? '',
      address: ipAddress ?? '',
      since: new Date(createdAt).toISOString(),
      usedAt: new Date(updatedAt).toISOString(),
    }))
    .sort((a, b) => Number(b.isThis) - Number(a.isThis) || b.usedAt.localeCompare(a.usedAt))
  return NextResponse.json({
    member: seat.member,
    hasPassword: has('credential'),
    provider: settings()?.provider?.name ?? null,
    isConnected: has(PROVIDER),
    devices,
    tokens: await store.ask('tokens', doer.id),
  } satisfies Account)
})
