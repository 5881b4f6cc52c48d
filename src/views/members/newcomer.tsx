'use client'

import { goAnew } from '../../ui/go-anew'
import { Box, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { useEffect, useState } from 'react'
import { PASSWORD_LEAST, type Invited, type Role } from '../../core/contract/access'
import { membersApi } from '../../session/members-api'
import { Main } from '../../ui/buttons'
import { Field, PageTitle, SmallForm, Trouble, useAsking } from './form'
import { HousePage } from './house-bar'
import { useSelf } from './self'

const enter = () => goAnew('/')

/** The first of all comes in, by the key that the server printed. */
export function Begin({ link }: { link: string }) {
  return (
    <HousePage narrow>
      <PageTitle>Be the first</PageTitle>
      <Text mt="3">
        Nobody has an account on this server yet. You become its owner: you can invite the others, and give them
        stories.
      </Text>
      <NewMemberForm action="Begin" onSubmit={(made) => membersApi.begin({ ...made, key: link })} />
    </HousePage>
  )
}

function NewMemberForm({
  action,
  onSubmit,
}: {
  action: string
  onSubmit: (made: { name: string; email: string; password: string }) => ReturnType<typeof membersApi.join>
}) {
  const [name, setName] = useState('')
  const [email, setEmail] = useState('')
  const [password, setPassword] = useState('')
  const { busy, trouble, run } = useAsking()
  return (
    <>
      <SmallForm
        action={action}
        busy={busy}
        onSubmit={() => void run(onSubmit({ name: name.trim(), email: email.trim(), password }), enter)}
      >
        <Field label="Your name, as the others see it" autoComplete="name" value={name} onChange={setName} autoFocus />
        <Field label="E-mail" type="email" autoComplete="username" value={email} onChange={setEmail} />
        <NewPassword label="Password" value={password} onChange={setPassword} />
      </SmallForm>
      <Trouble text={trouble} />
    </>
  )
}

/** A password that is being chosen. */
export function NewPassword(props: { label: string; value: string; onChange: (value: string) => void }) {
  return (
    <Field
      {...props}
      type="password"
      autoComplete="new-password"
      hint={`At least ${PASSWORD_LEAST} signs; a few words are easier to keep than one odd one.`}
    />
  )
}

const AS: Readonly<Record<Role, string>> = {
  reader: 'to read',
  commentator: 'to read and to comment on',
  writer: 'to write in',
  owner: 'to own, with all others who do,',
}

/** Where a link leads: into the studio, into a story, or to a new password. */
export function Join({ link, provider }: { link: string; provider: string | undefined }) {
  const self = useSelf()
  const [invited, setInvited] = useState<Invited>()
  const [password, setPassword] = useState('')
  const { busy, trouble, run } = useAsking()
  const [over, setOver] = useState<string>()
  useEffect(() => {
    void membersApi.invited(link).then((found) => (found.ok ? setInvited(found.value) : setOver(found.error.message)))
  }, [link])
  if (over !== undefined)
    return (
      <HousePage narrow>
        <PageTitle>This link is over</PageTitle>
        <Text role="alert" mt="3">
          {over}
        </Text>
      </HousePage>
    )
  if (invited === undefined)
    return (
      <HousePage narrow>
        <Text mt="8" color="faded" role="status">
          Looking what this link is for …
        </Text>
      </HousePage>
    )
  if (invited.kind === 'password')
    return (
      <HousePage narrow>
        <PageTitle>A new password</PageTitle>
        <Text mt="3">For {invited.email}. Wherever you are signed in now, you will be signed out.</Text>
        <SmallForm
          action="Set it"
          busy={busy}
          onSubmit={() => void run(membersApi.join({ key: link, password }), enter)}
        >
          <NewPassword label="New password" value={password} onChange={setPassword} />
        </SmallForm>
        <Trouble text={trouble} />
      </HousePage>
    )
  const { by, story, role } = invited
  return (
    <HousePage narrow>
      <PageTitle>{story === null ? 'You are invited' : story}</PageTitle>
      <Text mt="3">
        {story === null || role === null
          ? `${by} invites you to this studio’s stories.`
          : `${by} invites you ${AS[role]} this story.`}
      </Text>
      {self === undefined ? (
        <>
          <NewMemberForm action="Come in" onSubmit={(made) => membersApi.join({ ...made, key: link })} />
          <Text color="faded" fontSize="sm" mt="4">
            Have you an account here already{provider === undefined ? '' : `, or sign in with ${provider}`}?{' '}
            <Link
              href={`/sign-in?to=${encodeURIComponent(`/join?key=${link}`)}`}
              style={{ textDecoration: 'underline', textUnderlineOffset: '3px' }}
            >
              Sign in first
            </Link>
            ; you come back here.
          </Text>
        </>
      ) : (
        <Box mt="5">
          <Main disabled={busy} onClick={() => void run(membersApi.join({ key: link }), enter)}>
            Come in as {self.name}
          </Main>
          <Trouble text={trouble} />
        </Box>
      )}
    </HousePage>
  )
}
