import { spawn } from 'node:child_process'
import { resolve } from 'node:path'
import type { Browser, BrowserContext, Page } from '@playwright/test'
import { expect, field, freePort, needle, settled, test } from './app'
import { StandInProvider } from './provider'
import { passwordOf, Studio } from './studio'

let studio: Studio
let provider: StandInProvider
let owner: Page
const contexts: BrowserContext[] = []

async function window(browser: Browser): Promise<Page> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  await context.addInitScript(() => localStorage.setItem('paper-compass.tour', 'seen'))
  contexts.push(context)
  return context.newPage()
}

async function fillIn(page: Page, name: string): Promise<void> {
  await page.getByLabel('Your name').fill(name)
  await page.getByLabel('E-mail').fill(`${name.toLowerCase()}@studio.example`)
  await page.getByLabel('Password').fill(passwordOf(name))
}

async function signIn(page: Page, name: string, password = passwordOf(name)): Promise<void> {
  await page.getByLabel('E-mail').fill(`${name.toLowerCase()}@studio.example`)
  await page.getByLabel('Password').fill(password)
  await page.getByRole('button', { name: 'Sign in', exact: true }).click()
}

/** What the page itself says aloud. */
const alerts = (page: Page) => page.locator('[role=alert]:not(#__next-route-announcer__)')
const library = (page: Page) => page.getByRole('heading', { name: 'Stories' })

test.beforeAll(async ({ browser }) => {
  const port = await freePort()
  provider = await StandInProvider.start(`http://127.0.0.1:${port}`)
  studio = await Studio.open(provider.settings, port)
  owner = await window(browser)
  // two want to be the first at the same moment: one is
  const both = await Promise.all(
    ['Ada', 'Eve'].map((name) =>
      studio.ask('POST', '/api/begin', {
        key: studio.firstKey,
        name,
        email: `${name}@studio.example`,
        password: passwordOf(name),
      }),
    ),
  )
  expect(both.map(({ status }) => status).sort()).toEqual([200, 409])
  const first = both[0]!.status === 200 ? 'Ada' : 'Eve'
  await owner.goto(studio.firstLink)
  // the key opens nothing any more
  await owner.waitForURL(/sign-in/)
  await signIn(owner, first, 'not the right words')
  await expect(alerts(owner)).toContainText('do not belong together')
  await signIn(owner, first)
  await expect(library(owner)).toBeVisible()
})

test.afterAll(async () => {
  for (const context of contexts) await context.close()
  await studio.close()
  provider.close()
})

/** Makes somebody a link on the page of the members, and gives it. */
async function invited(note: string): Promise<string> {
  await owner.goto(`${studio.app.address}/members`)
  await owner.getByLabel('For whom').fill(note)
  await owner.getByRole('button', { name: 'Make a link' }).click()
  await expect(owner.getByLabel('Link', { exact: true })).toHaveValue(/\/join\?key=/)
  return owner.getByLabel('Link', { exact: true }).inputValue()
}

test('somebody comes in by a link, reads, is given the story, writes; what was written while signed out is sent after', async ({
  browser,
}) => {
  const link = await invited('Bo, our writer')
  const bo = await window(browser)
  await bo.goto(link)
  await bo.getByLabel('Your name').fill('Bo')
  await bo.getByLabel('E-mail').fill('bo@studio.example')
  await bo.getByLabel('Password').fill('too short')
  await bo.getByRole('button', { name: 'Come in' }).click()
  await expect(alerts(bo)).toContainText('at least 12 signs')
  await fillIn(bo, 'Bo')
  await bo.getByRole('button', { name: 'Come in' }).click()
  await expect(library(bo)).toBeVisible()
  // the link is used up
  const late = await window(browser)
  await late.goto(link)
  await expect(alerts(late)).toContainText('can not be used any more')

  // the sample is there to be read
  await bo.getByRole('link', { name: 'The Causeway at Hollin Reach', exact: true }).click()
  await expect(needle(bo)).toHaveAttribute('data-needle', 'settled')
  const line = bo.locator(field('quay.log#line1'))
  await expect(bo.getByText('you read only')).toBeVisible()
  await expect(line).toHaveAttribute('readonly')
  await expect(bo.getByRole('button', { name: 'Undo' })).toBeDisabled()
  await expect(bo.getByRole('button', { name: '+ scene' })).toBeHidden()
  await expect(bo.locator('[data-more]')).toHaveCount(0)
  const text = await line.inputValue()
  await line.focus()
  await bo.keyboard.press('Enter')
  await expect(alerts(bo).filter({ hasText: 'You may read this story' })).toBeVisible()
  await expect(line).toHaveValue(text)
  // nothing else offers what one may not do
  await bo.getByRole('link', { name: 'Ledger' }).click()
  await expect(bo.getByLabel('Kind of tide')).toBeDisabled()
  await expect(bo.getByRole('button', { name: 'Rename tide', exact: true })).toBeDisabled()
  await expect(bo.getByRole('button', { name: /^Delete / })).toHaveCount(0)
  await bo.getByRole('link', { name: 'Quests' }).click()
  await expect(bo.getByRole('button', { name: 'Rename sluice', exact: true })).toBeDisabled()
  await expect(bo.getByRole('button', { name: /^Delete |\+ stage/ })).toHaveCount(0)
  await bo.getByRole('link', { name: 'Desk' }).click()
  await expect(line).toBeVisible()

  // its owner gives it to them, and the window that is open can write
  await owner.goto(studio.app.address)
  await owner.getByRole('link', { name: 'The Causeway at Hollin Reach', exact: true }).click()
  await owner.getByRole('link', { name: 'Share' }).click()
  await owner.getByLabel('Somebody else here').selectOption({ label: 'Bo, bo@studio.example' })
  await owner.getByRole('button', { name: 'Let them in' }).click()
  await expect(owner.locator('[data-shared="bo@studio.example"]')).toBeVisible()
  await expect(bo.getByText('you read only')).toBeHidden()
  await line.fill('Six hours of dry sand.')
  await settled(bo)
  await owner.getByRole('link', { name: 'History' }).click()
  await expect(owner.locator('[data-step]').first()).toContainText('Bo')

  // they are signed out elsewhere, and write on
  const elsewhere = await window(browser)
  await elsewhere.goto(`${studio.app.address}/sign-in`)
  await signIn(elsewhere, 'Bo')
  await expect(library(elsewhere)).toBeVisible()
  await elsewhere.getByRole('link', { name: 'Bo' }).click()
  await elsewhere.getByRole('button', { name: /^Sign out Chrome on Linux$/ }).click()
  await expect(elsewhere.getByRole('button', { name: /Sign out Chrome/ })).toHaveCount(1)
  await expect(alerts(bo).filter({ hasText: 'not signed in' })).toBeVisible()
  await line.fill('Six hours of dry sand, and no more.')
  await expect(bo.locator('[data-saving]')).toHaveAttribute('data-saving', 'failed')
  // in another window of the same browser they sign in again: the first one goes on
  const again = await bo.context().newPage()
  await again.goto(`${studio.app.address}/account`)
  await signIn(again, 'Bo')
  await expect(again).toHaveURL(/\/account$/)
  await settled(bo)
  await bo.reload()
  await expect(line).toHaveValue('Six hours of dry sand, and no more.')
  await again.close()

  // the story is taken from them: what is open says so
  await owner.getByRole('link', { name: 'Share' }).click()
  await owner.getByRole('button', { name: 'Take the story from Bo' }).click()
  await owner.getByLabel('What everybody else here may do').selectOption('does not see it')
  await expect(alerts(bo).filter({ hasText: 'not open to you any more' })).toBeVisible()
  await bo.reload()
  await expect(bo.getByRole('heading', { name: 'There is no story at this address' })).toBeVisible()

  // what was done stands there
  await owner.goto(`${studio.app.address}/members`)
  for (const deed of [
    'took a role from Bo',
    'gave the role of writer to Bo',
    'used an invitation',
    'could not sign in',
  ])
    await expect(owner.locator('[data-deed]').filter({ hasText: deed }).first()).toBeVisible()
})

test('a password is changed, and forgotten; a token works until it is ended', async ({ browser }) => {
  const cy = await window(browser)
  await cy.goto(await invited('Cy'))
  await fillIn(cy, 'Cy')
  await cy.getByRole('button', { name: 'Come in' }).click()
  await cy.getByRole('link', { name: 'Cy' }).click()
  await cy.getByRole('button', { name: 'Change the password…' }).click()
  await cy.getByLabel('Password until now').fill('wrong, and wrong again')
  await cy.getByLabel('New password').fill('other words, just as long')
  await cy.getByRole('button', { name: 'Change it' }).click()
  await expect(alerts(cy).filter({ hasText: 'not your password' })).toBeVisible()
  await cy.getByLabel('Password until now').fill(passwordOf('Cy'))
  await cy.getByRole('button', { name: 'Change it' }).click()
  await expect(cy.getByText('The password is changed')).toBeVisible()

  await cy.getByLabel('What it is for').fill('The nightly build')
  await expect(cy.getByLabel('For which story').locator('option')).not.toHaveCount(1)
  await cy.getByLabel('For which story').selectOption({ label: 'First draft of Hollin Reach' })
  await cy.getByRole('button', { name: 'Make a token' }).click()
  await expect(cy.getByText('reads “First draft of Hollin Reach”')).toBeVisible()
  const token = await cy.getByLabel('Token', { exact: true }).inputValue()
  const asProgram = () => studio.ask('GET', '/api/stories', undefined, { Authorization: `Bearer ${token}` })
  expect((await asProgram()).status).toBe(200)
  await cy.getByRole('button', { name: 'End the token The nightly build' }).click()
  await expect(cy.getByText('reads “First draft of Hollin Reach”')).toBeHidden()
  expect((await asProgram()).status).toBe(401)

  await owner.goto(`${studio.app.address}/members`)
  await owner.getByRole('button', { name: 'A new password for Cy' }).click()
  const link = await owner.getByLabel('Link', { exact: true }).inputValue()
  const other = await window(browser)
  await other.goto(link)
  await expect(other.getByText('For cy@studio.example')).toBeVisible()
  await other.getByLabel('New password').fill('quite other words again')
  await other.getByRole('button', { name: 'Set it' }).click()
  await expect(library(other)).toBeVisible()
  // wherever they were signed in, they are out
  await cy.reload()
  await expect(cy).toHaveURL(/sign-in\?to=%2Faccount/)
  await signIn(cy, 'Cy', 'quite other words again')
  await expect(cy.getByRole('heading', { name: 'Cy', exact: true })).toBeVisible()
})

test('somebody comes in with the studio’s own sign-in, and connects an account with it', async ({ browser }) => {
  const atProvider = async (page: Page, name: string) => {
    await page.locator('input[name=login]').fill(name)
    await page.locator('input[name=password]').fill('anything')
    await page.getByRole('button', { name: /sign-in/i }).click()
    await page.getByRole('button', { name: /continue/i }).click()
  }
  const dee = await window(browser)
  await dee.goto(`${studio.app.address}/account`)
  await dee.getByRole('button', { name: 'With the studio account' }).click()
  await atProvider(dee, 'dee')
  await expect(dee.getByRole('heading', { name: 'dee of the studio' })).toBeVisible()
  await expect(dee.getByText('You can sign in with the studio account.')).toBeVisible()

  // an e-mail alone makes nobody the member who has it here
  const fay = await window(browser)
  await fay.goto(await invited('Fay'))
  await fillIn(fay, 'fay')
  await fay.getByRole('button', { name: 'Come in' }).click()
  await expect(library(fay)).toBeVisible()
  const stranger = await window(browser)
  await stranger.goto(`${studio.app.address}/sign-in`)
  await stranger.getByRole('button', { name: 'With the studio account' }).click()
  await atProvider(stranger, 'fay')
  await expect(alerts(stranger)).toContainText('There is an account with this e-mail here already')
  // once its member has connected the two, it does
  await fay.getByRole('link', { name: 'fay' }).click()
  await fay.getByRole('button', { name: 'Connect with the studio account' }).click()
  await atProvider(fay, 'fay')
  await expect(fay.getByText('You can sign in with the studio account.')).toBeVisible()
  await fay.getByRole('button', { name: 'Sign out', exact: true }).click()
  await fay.getByRole('button', { name: 'With the studio account' }).click()
  await expect(library(fay)).toBeVisible()

  // whoever was let go does not come in again by it
  await owner.goto(`${studio.app.address}/members`)
  await owner.getByRole('button', { name: 'Let dee of the studio go' }).click()
  await owner.getByRole('button', { name: 'Let dee of the studio go for good' }).click()
  await expect(owner.locator('[data-member="dee@studio.example"]')).toHaveCount(0)
  await dee.goto(studio.app.address)
  await dee.getByRole('button', { name: 'With the studio account' }).click()
  await expect(alerts(dee)).toContainText(/no account here any more|did not work/)
  expect(await dee.title()).toContain('Sign in')
})

test('whoever tries passwords is stopped', async () => {
  const attempt = (address: string) =>
    studio.ask(
      'POST',
      '/auth/sign-in/email',
      { email: 'bo@studio.example', password: 'guessed it' },
      // what a client says of itself does not count
      { 'X-Forwarded-For': address, 'X-Client-Address': address },
    )
  const answers: number[] = []
  for (let at = 0; at < 14; at += 1) answers.push((await attempt(`198.51.100.${at}`)).status)
  expect(answers.at(-1)).toBe(429)
  // other ways of making an account, or changing one, are not there
  for (const path of ['sign-up/email', 'update-user', 'delete-user', 'reset-password', 'change-email'])
    expect((await studio.ask('POST', `/auth/${path}`, {})).status).toBe(404)
})

test('nobody can listen beyond this machine without accounts', async () => {
  const start = (settings: Record<string, string>) =>
    new Promise<{ code: number | null; said: string }>((done) => {
      const child = spawn(process.execPath, [resolve('scripts/start.mjs')], {
        env: { ...process.env, PAPER_COMPASS_DATABASE_URL: '', PORT: '1024', ...settings },
      })
      let said = ''
      child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()))
      child.on('exit', (code) => done({ code, said }))
    })
  const open = { HOST: '0.0.0.0', PAPER_COMPASS_HOSTS: 'desk.example:3000' }
  const alone = await start(open)
  expect(alone.code).toBe(1)
  expect(alone.said).toContain('Set PAPER_COMPASS_DATABASE_URL')
  const off = await start({ ...open, PAPER_COMPASS_DATABASE_URL: 'postgres://here/x', PAPER_COMPASS_ACCOUNTS: 'off' })
  expect(off.said).toContain('Take PAPER_COMPASS_ACCOUNTS=off away')
  const wrong = await start({ PAPER_COMPASS_DATABASE_URL: 'postgres://here/x', PAPER_COMPASS_URL: 'desk.example' })
  expect(wrong.said).toContain('expected an address such as https://compass.example')
})
