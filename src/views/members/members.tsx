'use client'

import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import { useCallback, useEffect, useState } from 'react'
import type { Deed, Invitation, Member } from '../../core/contract/access'
import { membersApi } from '../../session/members-api'
import { Plain, Quiet } from '../../ui/buttons'
import { sayMoment } from '../shared/when'
import { Row } from './account'
import { Field, PageTitle, SectionTitle, SmallForm, Trouble, useAsking } from './form'
import { HousePage } from './house-bar'
import { linkOf, ShownOnce } from './link-shown'
import { useSelf } from './self'

/** For those who look after the server: who is here, links for others, and what was done. */
export function MembersView() {
  const self = useSelf()
  const [members, setMembers] = useState<readonly Member[]>([])
  const [invitations, setInvitations] = useState<readonly Invitation[]>([])
  const [deeds, setDeeds] = useState<readonly Deed[]>([])
  const [link, setLink] = useState<{ readonly text: string; readonly says: string }>()
  const [going, setGoing] = useState<string>()
  const { busy, trouble, say, run } = useAsking()
  const read = useCallback(async () => {
    const all = await Promise.all([membersApi.members(), membersApi.invitations(), membersApi.audit()])
    const [found, links, done] = all
    if (found.ok) setMembers(found.value)
    if (links.ok) setInvitations(links.value)
    if (done.ok) setDeeds(done.value)
    const failed = all.find(({ ok }) => !ok)
    if (failed !== undefined && !failed.ok) say(failed.error.message)
  }, [say])
  useEffect(() => {
    void Promise.resolve().then(read)
  }, [read])
  const [note, setNote] = useState('')
  const [asOwner, setAsOwner] = useState(false)
  const show = (key: string, says: string) => {
    setLink({ text: linkOf(key), says })
    void read()
  }
  return (
    <HousePage>
      <PageTitle>Members</PageTitle>
      <Trouble text={trouble} />
      {members.map((member) => (
        <Row key={member.id}>
          <Box flex="1" minW="14rem" data-member={member.email}>
            <Text as="span" fontWeight={600}>
              {member.name}
            </Text>{' '}
            <Text as="span" color="faded">
              {member.email}
            </Text>
            {member.isOwner && (
              <Text as="span" ml="2" fontSize="sm" color="kept">
                looks after the server
              </Text>
            )}
          </Box>
          <Text color="faded" fontSize="sm">
            since {sayMoment(member.since)}
          </Text>
          <Quiet
            aria-label={
              member.isOwner
                ? `${member.name} no longer looks after the server`
                : `Let ${member.name} look after the server`
            }
            onClick={() => void run(membersApi.setOwner(member.id, !member.isOwner), () => void read())}
          >
            {member.isOwner ? 'Stop looking after it' : 'Let look after it'}
          </Quiet>
          <Quiet
            aria-label={`A new password for ${member.name}`}
            onClick={() =>
              void run(membersApi.newPassword(member.id), ({ key }) =>
                show(key, `By this link ${member.name} sets a new password, within a day. It works once.`),
              )
            }
          >
            New password
          </Quiet>
          {going === member.id ? (
            <Plain onClick={() => void run(membersApi.letGo(member.id), () => void read())} autoFocus>
              Let {member.name} go for good
            </Plain>
          ) : (
            <Quiet
              disabled={member.id === self?.id}
              aria-label={`Let ${member.name} go`}
              onClick={() => setGoing(member.id)}
            >
              Let go…
            </Quiet>
          )}
        </Row>
      ))}
      <SectionTitle>Invite somebody</SectionTitle>
      <Text color="faded">
        A link for one person, which works for a week. Hand it on as you like; into single stories one invites under
        Share.
      </Text>
      {link !== undefined && <ShownOnce label="Link" text={link.text} says={link.says} />}
      <Box maxW="30rem">
        <SmallForm
          action="Make a link"
          busy={busy}
          onSubmit={() =>
            void run(membersApi.invite(note.trim(), asOwner), ({ key }) => {
              show(key, 'It works once, within a week.')
              setNote('')
              setAsOwner(false)
            })
          }
        >
          <Field label="For whom, as a note to yourself" value={note} onChange={setNote} />
          <chakra.label display="flex" gap="2" alignItems="center" mt="3">
            <input type="checkbox" checked={asOwner} onChange={(event) => setAsOwner(event.target.checked)} />
            they look after the server too
          </chakra.label>
        </SmallForm>
      </Box>
      <InvitationList
        invitations={invitations}
        onWithdraw={(id) => void run(membersApi.withdraw(id), () => void read())}
      />
      <SectionTitle>What was done</SectionTitle>
      <DeedList deeds={deeds} />
      {deeds.length > 0 && deeds.length % 100 === 0 && (
        <Plain
          mt="3"
          onClick={() =>
            void run(membersApi.audit(deeds.at(-1)!.id), (more) => setDeeds((before) => [...before, ...more]))
          }
        >
          Earlier
        </Plain>
      )}
    </HousePage>
  )
}

/** Links that wait to be used. */
export function InvitationList({
  invitations,
  onWithdraw,
}: {
  invitations: readonly Invitation[]
  onWithdraw: (id: string) => void
}) {
  return invitations.map((one) => {
    const what =
      one.kind === 'password'
        ? `a new password for ${one.of}`
        : `${one.note || 'an invitation'}${one.story === null ? '' : `, ${one.story.role} of “${one.story.title}”`}${one.asOwner ? ', looks after the server' : ''}`
    return (
      <Row key={one.id}>
        <Box flex="1" minW="14rem">
          {what}
        </Box>
        <Text color="faded" fontSize="sm">
          by {one.by}, until {sayMoment(one.endsAt)}
        </Text>
        <Quiet onClick={() => onWithdraw(one.id)} aria-label={`Take back: ${what}`}>
          Take back
        </Quiet>
      </Row>
    )
  })
}

/** Who did what, the latest first. */
export function DeedList({ deeds }: { deeds: readonly Deed[] }) {
  return deeds.map((deed) => (
    <Flex key={deed.id} gap="3" py="1" borderBottom="1px solid" borderColor="hairline" fontSize="sm" data-deed="">
      <Text color="faded" w="9rem" flexShrink={0}>
        {sayMoment(deed.at)}
      </Text>
      <Text flex="1">
        <b>{deed.who}</b> {deed.deed} {deed.about}
      </Text>
      <Text color="faded">{deed.address}</Text>
    </Flex>
  ))
}
