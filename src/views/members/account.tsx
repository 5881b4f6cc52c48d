'use client'

import { goAnew } from '../../ui/go-anew'
import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import { useCallback, useEffect, useState } from 'react'
import type { Account, Device, Token } from '../../core/contract/access'
import type { Card } from '../../core/contract/answers'
import { api } from '../../session/api'
import { membersApi } from '../../session/members-api'
import { Plain, Quiet } from '../../ui/buttons'
import { sayMoment } from '../shared/when'
import { Field, PageTitle, SectionTitle, SmallForm, Trouble, useAsking } from './form'
import { HousePage } from './house-bar'
import { NewPassword } from './newcomer'
import { ShownOnce } from './link-shown'

/** How long a token may live, in days. */
const LIVES = [
  { days: 7, says: 'a week' },
  { days: 30, says: 'a month' },
  { days: 90, says: 'three months' },
  { days: 366, says: 'a year' },
] as const

/** One's own account: the password, where one is signed in, and tokens for programs. */
export function AccountView({ error }: { error?: string }) {
  const [account, setAccount] = useState<Account>()
  const { trouble, say, run } = useAsking()
  const read = useCallback(async () => {
    const answer = await membersApi.account()
    if (answer.ok) setAccount(answer.value)
    else say(answer.error.message)
  }, [say])
  useEffect(() => {
    void Promise.resolve().then(read)
  }, [read])
  if (account === undefined)
    return (
      <HousePage>
        <Text mt="8" color="faded" role="status">
          {trouble ?? 'Reading your account …'}
        </Text>
      </HousePage>
    )
  return (
    <HousePage>
      <PageTitle>{account.member.name}</PageTitle>
      <Text color="faded">{account.member.email}</Text>
      <Trouble
        text={trouble ?? (error === undefined ? undefined : 'The other sign-in could not be connected; try again.')}
      />
      <SectionTitle>Signing in</SectionTitle>
      {account.provider !== null && (
        <Flex mt="2" gap="3" align="center">
          {account.isConnected ? (
            <Text>You can sign in with {account.provider}.</Text>
          ) : (
            <Plain onClick={() => void run(membersApi.goToStudio('link-social', '/account'), ({ url }) => goAnew(url))}>
              Connect with {account.provider}
            </Plain>
          )}
        </Flex>
      )}
      {account.hasPassword && <ChangePassword onDone={() => void read()} />}
      <SectionTitle>Where you are signed in</SectionTitle>
      {account.devices.map((device) => (
        <DeviceRow
          key={device.id}
          device={device}
          onEnd={() =>
            void run(membersApi.endSession(device.id), () => (device.isThis ? goAnew('/sign-in') : void read()))
          }
        />
      ))}
      <SectionTitle>Tokens</SectionTitle>
      <Text color="faded" maxW="40rem">
        For builds and scripts: a program that sends one as <code>Authorization: Bearer …</code> may read, or write,
        what you may, until it ends. docs/openapi.json lists what can be asked.
      </Text>
      {account.tokens.map((token) => (
        <TokenRow
          key={token.id}
          token={token}
          onEnd={() => void run(membersApi.endToken(token.id), () => void read())}
        />
      ))}
      <NewToken onMade={() => void read()} />
    </HousePage>
  )
}

function ChangePassword({ onDone }: { onDone: () => void }) {
  const [open, setOpen] = useState(false)
  const [before, setBefore] = useState('')
  const [after, setAfter] = useState('')
  const [said, setSaid] = useState<string>()
  const { busy, trouble, run } = useAsking()
  if (!open)
    return (
      <Flex mt="3" gap="3" align="baseline">
        <Plain
          onClick={() => {
            setOpen(true)
            setSaid(undefined)
          }}
        >
          Change the password…
        </Plain>
        <Text role="status">{said}</Text>
      </Flex>
    )
  return (
    <Box maxW="26rem">
      <SmallForm
        action="Change it"
        busy={busy}
        onSubmit={() =>
          void run(membersApi.changePassword(before, after), () => {
            setOpen(false)
            setBefore('')
            setAfter('')
            setSaid('The password is changed, and you are signed out everywhere else.')
            onDone()
          })
        }
      >
        <Field
          label="Password until now"
          type="password"
          autoComplete="current-password"
          value={before}
          onChange={setBefore}
          autoFocus
        />
        <NewPassword label="New password" value={after} onChange={setAfter} />
      </SmallForm>
      <Trouble
        text={trouble !== undefined && /invalid/i.test(trouble) ? 'This is not your password until now.' : trouble}
      />
    </Box>
  )
}

function DeviceRow({ device, onEnd }: { device: Device; onEnd: () => void }) {
  const name = sayDevice(device.device)
  return (
    <Row>
      <Box flex="1" minW="14rem">
        <Text as="span">{name}</Text>
        {device.isThis && (
          <Text as="span" ml="2" color="kept" fontSize="sm">
            here
          </Text>
        )}
      </Box>
      <Text color="faded" fontSize="sm">
        from {device.address || 'an unknown address'}, since {sayMoment(device.since)}, last {sayMoment(device.usedAt)}
      </Text>
      <Quiet onClick={onEnd} aria-label={`Sign out ${name}${device.isThis ? ' here' : ''}`}>
        Sign out
      </Quiet>
    </Row>
  )
}

const BROWSERS = [
  { sign: 'Edg', name: 'Edge' },
  { sign: 'OPR', name: 'Opera' },
  { sign: 'Firefox', name: 'Firefox' },
  { sign: 'Chrome', name: 'Chrome' },
  { sign: 'Safari', name: 'Safari' },
] as const

/** A browser and its system, as far as they can be told. */
function sayDevice(agent: string): string {
  // most say that they are several: the rarer name is the true one
  const browser = BROWSERS.find(({ sign }) => agent.includes(`${sign}/`))?.name ?? ''
  const system = /\b(Windows|Mac OS X|Android|iPhone|iPad|Linux)\b/.exec(agent)?.[1]?.replace('Mac OS X', 'macOS')
  return browser === '' ? agent.slice(0, 60) || 'A program' : `${browser}${system === undefined ? '' : ` on ${system}`}`
}

function TokenRow({ token, onEnd }: { token: Token; onEnd: () => void }) {
  const [now] = useState(Date.now)
  const isOver = Date.parse(token.endsAt) < now
  return (
    <Row>
      <Box flex="1" minW="14rem">
        {token.name}
      </Box>
      <Text color={isOver ? 'needle' : 'faded'} fontSize="sm">
        {token.mayWrite ? 'reads and writes' : 'reads'}{' '}
        {token.story === null ? 'all that you may' : `“${token.story.title}”`}, {isOver ? 'ended' : 'until'}{' '}
        {sayMoment(token.endsAt)}, {token.usedAt === null ? 'never used' : `last used ${sayMoment(token.usedAt)}`}
      </Text>
      <Quiet onClick={onEnd} aria-label={`End the token ${token.name}`}>
        End it
      </Quiet>
    </Row>
  )
}

function NewToken({ onMade }: { onMade: () => void }) {
  const [name, setName] = useState('')
  const [days, setDays] = useState<number>(LIVES[1].days)
  const [mayWrite, setMayWrite] = useState(false)
  const [story, setStory] = useState('')
  const [stories, setStories] = useState<readonly Pick<Card, 'id' | 'title'>[]>([])
  useEffect(() => void api.list('', 0, 'title').then((list) => list.ok && setStories(list.value.cards)), [])
  const [key, setKey] = useState<string>()
  const { busy, trouble, run } = useAsking()
  return (
    <Box maxW="40rem">
      {key !== undefined && <ShownOnce label="Token" text={key} says="Copy it now: it is not shown again." />}
      <SmallForm
        action="Make a token"
        busy={busy}
        onSubmit={() =>
          void run(membersApi.makeToken({ name: name.trim(), mayWrite, days, ...(story && { story }) }), (made) => {
            setKey(made.key)
            setName('')
            onMade()
          })
        }
      >
        <Field label="What it is for" value={name} onChange={setName} />
        <Flex gap="5" mt="3" align="center" wrap="wrap">
          <label>
            for{' '}
            <select
              className="field"
              aria-label="For which story"
              value={story}
              onChange={(event) => setStory(event.target.value)}
            >
              <option value="">all stories</option>
              {stories.map(({ id, title }) => (
                <option key={id} value={id}>
                  {title}
                </option>
              ))}
            </select>
          </label>
          <label>
            lasts{' '}
            <select className="field" value={days} onChange={(event) => setDays(Number(event.target.value))}>
              {LIVES.map((life) => (
                <option key={life.days} value={life.days}>
                  {life.says}
                </option>
              ))}
            </select>
          </label>
          <chakra.label display="flex" gap="2" alignItems="center">
            <input type="checkbox" checked={mayWrite} onChange={(event) => setMayWrite(event.target.checked)} />
            it may also write
          </chakra.label>
        </Flex>
      </SmallForm>
      <Trouble text={trouble} />
    </Box>
  )
}

export function Row({ children, ...rest }: { children: React.ReactNode }) {
  return (
    <Flex gap="3" py="2" align="baseline" borderBottom="1px solid" borderColor="hairline" wrap="wrap" {...rest}>
      {children}
    </Flex>
  )
}
