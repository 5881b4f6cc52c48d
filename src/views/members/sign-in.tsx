'use client'

import { goAnew } from '../../ui/go-anew'
import { Box, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { membersApi } from '../../session/members-api'
import { Plain } from '../../ui/buttons'
import { Field, PageTitle, SmallForm, Trouble, useAsking } from './form'
import { HousePage } from './house-bar'

/** What the studio's own sign-in can come back with. */
const CAME_BACK: Readonly<Record<string, string>> = {
  account_not_linked:
    'There is an account with this e-mail here already. Sign in with its password, and connect the two under your name.',
  no_owner: 'This server has no owner yet: whoever started it has a link for the first of you.',
  not_here: 'You have no account here any more.',
  access_denied: 'The other sign-in was broken off.',
}

/** Where one says who one is. */
export function SignIn({ to, provider, error }: { to: string; provider: string | undefined; error?: string }) {
  const [email, setEmail] = useState('')
  const [password, setPassword] = useState('')
  const { busy, trouble, run, say } = useAsking()
  const came = error && (CAME_BACK[error.toLowerCase()] ?? 'Signing in elsewhere did not work; try again.')
  return (
    <HousePage narrow>
      <PageTitle>Sign in</PageTitle>
      {provider !== undefined && (
        <Box mt="5">
          <Plain
            type="button"
            disabled={busy}
            onClick={() => void run(membersApi.goToStudio('sign-in/social', to), ({ url }) => goAnew(url))}
          >
            With {provider}
          </Plain>
        </Box>
      )}
      <SmallForm
        action="Sign in"
        busy={busy}
        onSubmit={() =>
          email.trim() === '' || password === ''
            ? say('Your e-mail and your password, please.')
            : void run(membersApi.signIn(email.trim(), password), () => goAnew(to))
        }
      >
        <Field label="E-mail" type="email" autoComplete="username" value={email} onChange={setEmail} autoFocus />
        <Field
          label="Password"
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={setPassword}
        />
      </SmallForm>
      <Trouble text={trouble === undefined ? came : said(trouble)} />
      <Text color="faded" fontSize="sm" mt="2">
        No account yet, or the password forgotten? Whoever looks after this server can make you a link.
      </Text>
    </HousePage>
  )
}

function said(trouble: string): string {
  if (/too many requests/i.test(trouble)) return 'This was tried too often; wait a minute.'
  if (/invalid|not found/i.test(trouble)) return 'This e-mail and this password do not belong together.'
  return trouble
}
