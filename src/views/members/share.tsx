'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useCallback, useEffect, useState } from 'react'
import {
  ROLES,
  ROLES_OF_ALL,
  type Deed,
  type Invitation,
  type Member,
  type Role,
  type StoryMembers,
} from '../../core/contract/access'
import { membersApi } from '../../session/members-api'
import { Plain, Quiet } from '../../ui/buttons'
import { useSession, useSessionState } from '../shared/session/use-session'
import { Row } from './account'
import { Field, SmallForm, Trouble, useAsking } from './form'
import { linkOf, ShownOnce } from './link-shown'
import { DeedList, InvitationList } from './members'
import { useSelf } from './self'

const MAY: Readonly<Record<Role, string>> = {
  reader: 'may read it',
  commentator: 'may comment on it',
  writer: 'may write in it',
  owner: 'owns it',
}

/** Who may do what with the story. */
export function ShareView() {
  const session = useSession()
  const self = useSelf()
  const { id } = session
  const isOwner = useSessionState(({ role }) => role === 'owner')
  const [shared, setShared] = useState<StoryMembers>()
  const [members, setMembers] = useState<readonly Member[]>([])
  const [invitations, setInvitations] = useState<readonly Invitation[]>([])
  const [deeds, setDeeds] = useState<readonly Deed[]>([])
  const { busy, trouble, say, run } = useAsking()
  const read = useCallback(async () => {
    const found = await membersApi.storyMembers(id)
    if (!found.ok) return say(found.error.message)
    setShared(found.value)
    if (!isOwner) return
    const [all, links, done] = await Promise.all([
      membersApi.members(),
      membersApi.storyInvitations(id),
      membersApi.storyAudit(id),
    ])
    if (all.ok) setMembers(all.value)
    if (links.ok) setInvitations(links.value)
    if (done.ok) setDeeds(done.value)
  }, [id, isOwner, say])
  useEffect(() => {
    void Promise.resolve().then(read)
  }, [read])
  if (self === undefined)
    return (
      <Box as="main" p="8" maxW="44rem">
        <Text>
          You work alone here, without accounts. With a database of a PostgreSQL server others can come in, each with a
          role in each story; docs/operating.md tells how.
        </Text>
      </Box>
    )
  if (shared === undefined)
    return (
      <Text p="8" color="faded" role="status">
        {trouble ?? 'Reading who works on this story …'}
      </Text>
    )
  const here = new Set(shared.members.map((one) => one.id))
  // oneself last: one looks for somebody else
  const others = members
    .filter((one) => !here.has(one.id))
    .sort((a, b) => Number(a.id === self.id) - Number(b.id === self.id))
  const set = (member: string, role: Role | null) => void run(membersApi.setRole(id, member, role), () => void read())
  return (
    <Box as="main" px="6" py="4" overflowY="auto" h="100%">
      <Box maxW="48rem">
        <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500}>
          Who works on this story
        </Heading>
        <Trouble text={trouble} />
        {shared.members.map((one) => (
          <Row key={one.id}>
            <Box flex="1" minW="14rem" data-shared={one.email}>
              <Text as="span" fontWeight={600}>
                {one.name}
              </Text>{' '}
              <Text as="span" color="faded">
                {one.id === self.id ? 'you' : one.email}
              </Text>
            </Box>
            {isOwner ? (
              <>
                <RoleField label={`What ${one.name} may do`} value={one.role} onChange={(role) => set(one.id, role)} />
                <Quiet onClick={() => set(one.id, null)} aria-label={`Take the story from ${one.name}`}>
                  Take it away
                </Quiet>
              </>
            ) : (
              <Text color="faded">{MAY[one.role]}</Text>
            )}
          </Row>
        ))}
        {self.isOwner && <Text color="faded">You look after the server, and so own every story.</Text>}
        {!self.isOwner && shared.members.length === 0 && (
          <Text color="faded">Nobody has a role of their own in it yet; those who look after the server own it.</Text>
        )}
        <Row>
          <Box flex="1" minW="14rem">
            Everybody else here
          </Box>
          {isOwner ? (
            <select
              className="field"
              aria-label="What everybody else here may do"
              value={shared.everyone ?? ''}
              onChange={(event) => {
                const role = ROLES_OF_ALL.find((one) => one === event.target.value) ?? null
                void run(membersApi.setEveryone(id, role), () => void read())
              }}
            >
              <option value="">does not see it</option>
              {ROLES_OF_ALL.map((role) => (
                <option key={role} value={role}>
                  {MAY[role]}
                </option>
              ))}
            </select>
          ) : (
            <Text color="faded">{shared.everyone === null ? 'does not see it' : MAY[shared.everyone]}</Text>
          )}
        </Row>
        {isOwner && (
          <>
            <AddMember others={others} busy={busy} onAdd={set} />
            <InviteInto id={id} onMade={() => void read()} />
            <InvitationList
              invitations={invitations}
              onWithdraw={(one) => void run(membersApi.withdrawFrom(id, one), () => void read())}
            />
            <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500} mt="8">
              What was done
            </Heading>
            <DeedList deeds={deeds} />
          </>
        )}
      </Box>
    </Box>
  )
}

function RoleField({ label, value, onChange }: { label: string; value: Role; onChange: (role: Role) => void }) {
  return (
    <select
      className="field"
      aria-label={label}
      value={value}
      onChange={(event) => onChange(event.target.value as Role)}
    >
      {ROLES.map((role) => (
        <option key={role} value={role}>
          {MAY[role]}
        </option>
      ))}
    </select>
  )
}

function AddMember({
  others,
  busy,
  onAdd,
}: {
  others: readonly Member[]
  busy: boolean
  onAdd: (member: string, role: Role) => void
}) {
  const [chosen, setChosen] = useState('')
  const [role, setRole] = useState<Role>('writer')
  if (others.length === 0) return null
  const member = others.find(({ id }) => id === chosen) ?? others[0]!
  return (
    <Flex mt="5" gap="2" align="center" wrap="wrap">
      <select
        className="field"
        aria-label="Somebody else here"
        value={member.id}
        onChange={(event) => setChosen(event.target.value)}
      >
        {others.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}, {one.email}
          </option>
        ))}
      </select>
      <RoleField label="What they may do" value={role} onChange={setRole} />
      <Plain disabled={busy} onClick={() => onAdd(member.id, role)}>
        Let them in
      </Plain>
    </Flex>
  )
}

function InviteInto({ id, onMade }: { id: string; onMade: () => void }) {
  const [note, setNote] = useState('')
  const [role, setRole] = useState<Role>('writer')
  const [key, setKey] = useState<string>()
  const { busy, trouble, run } = useAsking()
  return (
    <Box maxW="34rem" mt="6">
      <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500}>
        Invite somebody who has no account here
      </Heading>
      {key !== undefined && (
        <ShownOnce
          label="Link"
          text={linkOf(key)}
          says="Hand it to them: by it they come in, and into this story. It works once, within a week."
        />
      )}
      <SmallForm
        action="Make a link"
        busy={busy}
        onSubmit={() =>
          void run(membersApi.inviteInto(id, note.trim(), role), (made) => {
            setKey(made.key)
            setNote('')
            onMade()
          })
        }
      >
        <Flex gap="3" align="end">
          <Box flex="1">
            <Field label="For whom, as a note to yourself" value={note} onChange={setNote} />
          </Box>
          <RoleField label="What they will be" value={role} onChange={setRole} />
        </Flex>
      </SmallForm>
      <Trouble text={trouble} />
    </Box>
  )
}
