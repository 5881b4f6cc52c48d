import * as z from 'zod'
import {
  accountSchema,
  deedSchema,
  invitationSchema,
  invitedSchema,
  keySchema,
  memberSchema,
  storyMembersSchema,
  type Role,
  type StoryMembers,
} from '../core/contract/access'
import { ask, post } from './api'

const done = z.looseObject({})
const remove = (path: string) => ask(path, done, { method: 'DELETE' })

export interface NewMember {
  readonly key: string
  readonly name: string
  readonly email: string
  readonly password: string
}

/** Signing in, one's account, and who may do what. */
export const membersApi = {
  signIn: (email: string, password: string) => post('/auth/sign-in/email', done, { email, password }),
  /** Where to go to sign in with the studio's own sign-in, or to connect an account with it. */
  goToStudio: (kind: 'sign-in/social' | 'link-social', to: string) =>
    post(`/auth/${kind}`, z.object({ url: z.string() }), {
      provider: 'studio',
      callbackURL: to,
      errorCallbackURL: kind === 'link-social' ? '/account' : '/sign-in',
    }),
  signOut: () => post('/auth/sign-out', done),
  begin: (made: NewMember) => post('/api/begin', done, made),
  invited: (key: string) => ask(`/api/join?key=${encodeURIComponent(key)}`, invitedSchema),
  join: (made: Pick<NewMember, 'key'> & Partial<NewMember>) => post('/api/join', done, made),
  account: () => ask('/api/account', accountSchema),
  changePassword: (currentPassword: string, newPassword: string) =>
    post('/auth/change-password', done, { currentPassword, newPassword, revokeOtherSessions: true }),
  endSession: (id: string) => remove(`/api/account/sessions/${id}`),
  makeToken: (asked: { name: string; mayWrite: boolean; story?: string; days: number }) =>
    post('/api/account/tokens', keySchema, asked),
  endToken: (id: string) => remove(`/api/account/tokens/${id}`),
  members: () => ask('/api/members', z.array(memberSchema)),
  setOwner: (id: string, isOwner: boolean) => post(`/api/members/${id}`, done, { isOwner }),
  letGo: (id: string) => remove(`/api/members/${id}`),
  invitations: () => ask('/api/invitations', z.array(invitationSchema)),
  invite: (note: string, asOwner: boolean) => post('/api/invitations', keySchema, { kind: 'join', note, asOwner }),
  newPassword: (member: string) => post('/api/invitations', keySchema, { kind: 'password', member }),
  withdraw: (id: string) => remove(`/api/invitations/${id}`),
  audit: (before?: string) => ask(`/api/audit${before === undefined ? '' : `?before=${before}`}`, z.array(deedSchema)),
  storyMembers: (id: string) => ask(`/api/stories/${id}/members`, storyMembersSchema),
  setRole: (id: string, member: string, role: Role | null) =>
    post(`/api/stories/${id}/members`, done, { member, role }),
  setEveryone: (id: string, role: StoryMembers['everyone']) => post(`/api/stories/${id}/everyone`, done, { role }),
  storyInvitations: (id: string) => ask(`/api/stories/${id}/invitations`, z.array(invitationSchema)),
  inviteInto: (id: string, note: string, role: Role) =>
    post(`/api/stories/${id}/invitations`, keySchema, { note, role }),
  withdrawFrom: (id: string, invitation: string) => remove(`/api/stories/${id}/invitations/${invitation}`),
  storyAudit: (id: string) => ask(`/api/stories/${id}/audit`, z.array(deedSchema)),
}
