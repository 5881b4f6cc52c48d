import * as z from 'zod'

/** What somebody is in a story, the least first; each may do all that those before it may. */
export const ROLES = ['reader', 'commentator', 'writer', 'owner'] as const
export type Role = (typeof ROLES)[number]

/** What every member of a studio may be given at once. */
export const ROLES_OF_ALL = ['reader', 'commentator', 'writer'] as const

/** What is asked for in a story, and the least role that may do it. */
const LEAST = { read: 'reader', comment: 'commentator', write: 'writer', own: 'owner' } as const
export type Right = keyof typeof LEAST

const rank = (role: Role) => ROLES.indexOf(role)

export function may(role: Role | undefined, right: Right): boolean {
  return role !== undefined && rank(role) >= rank(LEAST[right])
}

/** The one of two roles that may do less. */
export function lesser(one: Role, other: Role): Role {
  return rank(one) <= rank(other) ? one : other
}

/** The one of two roles that may do more; undefined where there is neither. */
export function greater(one: Role | undefined, other: Role | undefined): Role | undefined {
  if (one === undefined || other === undefined) return one ?? other
  return rank(one) >= rank(other) ? one : other
}

const when = z.string()
export const roleSchema = z.enum(ROLES)
export const roleOfAllSchema = z.enum(ROLES_OF_ALL)

export const nameSchema = z.string().trim().min(1, 'a name is expected').max(100, 'a name has at most 100 signs')
export const emailSchema = z.email('an e-mail address is expected').max(200).toLowerCase()
/** Long rather than intricate. */
export const PASSWORD_LEAST = 12
export const passwordSchema = z
  .string()
  .min(PASSWORD_LEAST, `a password has at least ${PASSWORD_LEAST} signs`)
  .max(200, 'a password has at most 200 signs')

/** Somebody who has an account here. */
export const memberSchema = z.object({
  id: z.string(),
  name: z.string(),
  email: z.string(),
  /** Looks after the server. */
  isOwner: z.boolean(),
  since: when,
})
export type Member = Readonly<z.infer<typeof memberSchema>>

/** One who may do something with a story. */
export const sharedSchema = z.object({ id: z.string(), name: z.string(), email: z.string(), role: roleSchema })

/** Who works on a story. */
export const storyMembersSchema = z.object({
  members: z.array(sharedSchema).readonly(),
  /** What everybody here may do with it. */
  everyone: roleOfAllSchema.nullable(),
})
export type StoryMembers = Readonly<z.infer<typeof storyMembersSchema>>

/** A link that was made for somebody, and was not used yet. */
export const invitationSchema = z.object({
  id: z.string(),
  kind: z.enum(['join', 'password']),
  note: z.string(),
  by: z.string(),
  /** Whose new password it is for. */
  of: z.string().nullable(),
  madeAt: when,
  endsAt: when,
  story: z.object({ id: z.string(), title: z.string(), role: roleSchema }).nullable(),
  asOwner: z.boolean(),
})
export type Invitation = Readonly<z.infer<typeof invitationSchema>>

/** A link's key, which is shown once. */
export const keySchema = z.object({ key: z.string() })

/** What one is invited to. */
export const invitedSchema = z.object({
  kind: z.enum(['join', 'password']),
  by: z.string(),
  story: z.string().nullable(),
  role: roleSchema.nullable(),
  /** Whose new password it is for. */
  email: z.string().nullable(),
})
export type Invited = Readonly<z.infer<typeof invitedSchema>>

export const deviceSchema = z.object({
  id: z.string(),
  isThis: z.boolean(),
  device: z.string(),
  address: z.string(),
  since: when,
  usedAt: when,
})
export type Device = Readonly<z.infer<typeof deviceSchema>>

export const tokenSchema = z.object({
  id: z.string(),
  name: z.string(),
  mayWrite: z.boolean(),
  story: z.object({ id: z.string(), title: z.string() }).nullable(),
  madeAt: when,
  endsAt: when,
  usedAt: when.nullable(),
})
export type Token = Readonly<z.infer<typeof tokenSchema>>

export const deedSchema = z.object({
  id: z.string(),
  at: when,
  who: z.string(),
  deed: z.string(),
  about: z.string(),
  address: z.string().nullable(),
})
export type Deed = Readonly<z.infer<typeof deedSchema>>

/** One's own account. */
export const accountSchema = z.object({
  member: memberSchema,
  hasPassword: z.boolean(),
  /** The name of the studio's own sign-in, where there is one. */
  provider: z.string().nullable(),
  isConnected: z.boolean(),
  devices: z.array(deviceSchema).readonly(),
  tokens: z.array(tokenSchema).readonly(),
})
export type Account = Readonly<z.infer<typeof accountSchema>>

/** What is sent to come in, and to change who may do what. */
const newMember = { name: nameSchema, email: emailSchema, password: passwordSchema }
export const beginSchema = z.object({ key: z.string(), ...newMember })
export const joinSchema = z
  .object({ key: z.string(), ...newMember })
  .partial({ name: true, email: true, password: true })

/** A token lives for a year at most, in days. */
const TOKEN_DAYS_MAX = 366
export const newTokenSchema = z.object({
  name: z.string().trim().min(1, 'a token needs a name').max(100, 'a name has at most 100 signs'),
  mayWrite: z.boolean().default(false),
  story: z.uuid().optional(),
  days: z.int().min(1).max(TOKEN_DAYS_MAX),
})
export const ownerSchema = z.object({ isOwner: z.boolean() })
const note = z.string().trim().max(200, 'a note has at most 200 signs').default('')
export const newInvitationSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('join'), note, asOwner: z.boolean().default(false) }),
  z.object({ kind: z.literal('password'), member: z.string() }),
])
export const invitationIntoSchema = z.object({ note, role: roleSchema })
export const givenRoleSchema = z.object({ member: z.string(), role: roleSchema.nullable() })
export const everyoneSchema = z.object({ role: roleOfAllSchema.nullable() })
