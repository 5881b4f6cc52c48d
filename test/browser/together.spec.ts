import { readFile } from 'node:fs/promises'
import type { Browser, BrowserContext, Page } from '@playwright/test'
import { expect, field, needle, settled, shortStory, test, turnTo } from './app'
import { Studio, type Headers } from './studio'

let studio: Studio
let story: string
const seats: Record<string, Headers> = {}
const contexts: BrowserContext[] = []

/** A window of somebody who is signed in. */
async function window(browser: Browser, name: string): Promise<Page> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  await context.addInitScript(() => localStorage.setItem('paper-compass.tour', 'seen'))
  const [cookie, value] = seats[name]!['Cookie']!.split(/=(.*)/s) as [string, string]
  await context.addCookies([{ name: cookie, value, url: studio.app.address }])
  contexts.push(context)
  return context.newPage()
}

test.beforeAll(async () => {
  studio = await Studio.open()
  seats.Ada = await studio.come('/api/begin', studio.firstKey, 'Ada')
  const made = shortStory('Talked of', 'Here.', 'And there.')
  const answer = await fetch(`${studio.app.address}/api/stories`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream', ...seats.Ada },
    body: JSON.stringify({ ...made, ledger: [{ id: 'tide', kind: 'flag', initial: false }] }),
  })
  story = ((await answer.json()) as { id: string }).id
  const into = async (name: string, role: string) => {
    const { key } = await studio.done<{ key: string }>('POST', `/api/stories/${story}/invitations`, { role }, seats.Ada)
    seats[name] = await studio.come('/api/join', key, name)
  }
  await into('Bo', 'writer')
  await into('Cora', 'commentator')
})

// a window that stays open goes on to see what others do, in its member's name
test.afterEach(async () => {
  for (const context of contexts.splice(0)) await context.close()
})

test.afterAll(async () => {
  await studio.close()
})

const mark = (page: Page, topic: string) => page.locator(`[data-comments="${topic}"]`)

test('a row is talked about by keys, answered, followed when it moves, given, done; a commentator says something and changes nothing', async ({
  browser,
}) => {
  const [ada, bo, cora] = [await window(browser, 'Ada'), await window(browser, 'Bo'), await window(browser, 'Cora')]
  const desk = `${studio.app.address}/story/${story}/desk`
  for (const page of [ada, bo, cora]) await page.goto(desk)
  for (const page of [ada, bo]) await settled(page)
  await expect(needle(cora)).toHaveAttribute('data-needle', 'settled')

  // who is here, and where
  await expect(ada.locator('[data-here="quay.here"]')).toHaveText(/^(Bo, Cora|Cora, Bo)$/)
  await bo.locator(field('quay.end:name')).click()
  await expect(ada.locator('[data-here="quay.end"]')).toHaveText('Bo')

  await cora.locator(field('quay.here#line2')).focus()
  await expect(cora.locator(field('quay.here#line2'))).toHaveAttribute('readonly')
  await expect(cora.getByText('you read and comment')).toBeVisible()
  await cora.keyboard.press('Alt+.')
  await cora.locator('[data-item="comment"]').click()
  await expect(cora.getByLabel('Your comment')).toBeFocused()
  await cora.getByRole('button', { name: '@Bo' }).click()
  await cora.keyboard.type('where is there?')
  await cora.keyboard.press('Control+Enter')
  await expect(cora.getByRole('dialog')).toBeHidden()
  for (const page of [ada, bo, cora]) await expect(mark(page, 'at quay.here#line2')).toContainText('Cora: @Bo where is')
  await expect(bo.getByRole('link', { name: '1 comment' })).toBeVisible()

  // another line goes in above, and the beat gets a title: it stays where it belongs
  await bo.locator(field('quay.here#line1')).press('Control+Home')
  await bo.keyboard.press('End')
  await bo.keyboard.press('Enter')
  await bo.keyboard.type('Between.')
  await settled(bo)
  await expect(ada.locator('[data-by-other]')).toContainText('Bo line')
  await expect(mark(ada, 'at quay.here#line3')).toBeVisible()
  await ada.locator(field('quay.here:name')).fill('The pier')
  await ada.keyboard.press('Enter')
  await expect(mark(bo, 'at quay.here#line3')).toBeVisible()

  // answered, given and done in the list
  await bo.getByRole('link', { name: '1 comment' }).click()
  await bo.getByRole('button', { name: 'for me 1' }).click()
  await expect(bo.getByText('“And there.”')).toBeVisible()
  await bo.getByLabel('Answer').fill('Across the water.')
  await bo.getByLabel('Answer').press('Control+Enter')
  await expect(bo.getByText('Across the water.', { exact: true })).toBeVisible()
  await bo.getByLabel('Who sees to it').selectOption({ label: 'Ada sees to it' })
  await ada.getByRole('link', { name: '1 comment' }).click()
  await ada.getByRole('button', { name: 'for me 1' }).click()
  await ada.getByRole('button', { name: 'The pier' }).click()
  await expect(ada.locator(field('quay.here#line3'))).toBeFocused()
  await expect(mark(ada, 'at quay.here#line3')).toContainText('Bo +1: Across')
  const copy = await studio.ask('GET', `/api/stories/${story}/copy?format=markdown&comments=open`, undefined, seats.Ada)
  expect(await copy.text()).toContain('Comment by Cora on “And there.”: @Bo where is there?')

  // on asking, whoever translates is told too
  await ada.getByRole('link', { name: 'Languages' }).click()
  await ada.getByRole('button', { name: 'Give them names' }).click()
  await settled(ada)
  await ada.getByLabel('with comments').check()
  const saving = ada.waitForEvent('download')
  await ada.getByRole('link', { name: 'Save to send' }).click()
  const sent = await readFile(await (await saving).path(), 'utf8')
  expect(sent).toContain('Answer by Bo: Across the water.</note>')

  // the library says how many are for oneself, and leads there
  await ada.goto(studio.app.address)
  await ada.getByRole('link', { name: '1 for you' }).click()
  await expect(ada.getByRole('button', { name: 'for me 1' })).toHaveAttribute('aria-pressed', 'true')
  await ada.getByRole('button', { name: 'The pier' }).click()
  await mark(ada, 'at quay.here#line3').click()
  await ada.getByRole('button', { name: 'Done' }).click()
  await expect(ada.getByText(/^done: Ada/)).toBeVisible()
  await ada.keyboard.press('Escape')
  await expect(mark(bo, 'at quay.here#line3')).toHaveCount(0)
  await expect(cora.getByRole('link', { name: '0 comments' })).toBeVisible()

  // entries have it beside them
  await ada.getByRole('link', { name: 'Ledger' }).click()
  await ada.getByRole('button', { name: 'Comment on tide' }).click()
  await ada.keyboard.type('What is it for?')
  await ada.getByRole('button', { name: 'Say it' }).click()
  await expect(mark(ada, 'entry tide')).toContainText('What is it for?')
})

test('whoever comes back is told what happened, and undo takes back one’s own', async ({ browser }) => {
  const bo = await window(browser, 'Bo')
  const desk = `${studio.app.address}/story/${story}/desk`
  await bo.goto(desk)
  await settled(bo)
  await bo.goto(`${studio.app.address}/account`)
  const ada = await window(browser, 'Ada')
  await ada.goto(desk)
  await settled(ada)
  const first = field('quay.here#line1')
  await ada.locator(first).fill('Here, at last.')
  await settled(ada)
  await ada.getByRole('button', { name: 'Find …' }).click()
  await ada.keyboard.type('Comments')
  await ada.keyboard.press('Enter')
  await ada.getByLabel('Answer').fill('For @Bo to say.')
  await ada.getByRole('button', { name: 'Answer', exact: true }).click()
  await expect(ada.getByText('For @Bo to say.', { exact: true })).toBeVisible()

  await bo.goto(desk)
  const strip = bo.locator('[data-since]')
  await expect(strip).toContainText('1 step by Ada; 1 comment, 1 for you')
  await strip.getByRole('link', { name: 'What changed' }).click()
  await expect(bo.getByText('Here, at last.').first()).toBeVisible()
  await expect(bo.getByRole('heading', { name: 'In verdicts' })).toBeVisible()

  // in a new window of hers, her own step is the last that is hers
  await bo.getByRole('link', { name: 'Desk' }).click()
  await bo.locator(field('quay.here#line2')).fill('Between the two.')
  await settled(bo)
  const again = await window(browser, 'Ada')
  await again.goto(desk)
  await settled(again)
  await again.getByRole('button', { name: 'Undo' }).click()
  await expect(again.locator(first)).toHaveValue('Here.')
  await expect(again.locator(field('quay.here#line2'))).toHaveValue('Between the two.')
})

test('whatever a reader presses in any view, nothing is asked that they may not do', async ({ browser }) => {
  const cards = await studio.done<{ cards: { id: string; title: string; role: string }[] }>(
    'GET',
    '/api/stories',
    undefined,
    seats.Cora,
  )
  const sample = cards.cards.find(({ title }) => title.startsWith('First draft'))!
  expect(sample.role).toBe('reader')
  const cora = await window(browser, 'Cora')
  const refused: string[] = []
  cora.on('response', (answer) => {
    if (answer.status() === 403) refused.push(`${answer.request().method()} ${answer.url()}`)
  })
  const pressed: string[] = []
  await cora.goto(`${studio.app.address}/story/${sample.id}/desk`)
  for (const view of ['desk', 'quests', 'ledger', 'bearings', 'rehearse', 'languages', 'history', 'export']) {
    const open = async () => {
      await turnTo(cora, view)
      await expect(needle(cora)).toHaveAttribute('data-needle', 'settled')
    }
    await open()
    const buttons = cora.locator('main button:enabled:visible')
    const names = await buttons.evaluateAll((all) =>
      all.map((one) => one.getAttribute('aria-label') ?? one.textContent),
    )
    // those of a kind that a list has for each of its rows are pressed in two of them
    const kinds = new Map<string, number>()
    for (const name of names) {
      const kind = name.replace(/:.*| .*/s, '')
      kinds.set(kind, (kinds.get(kind) ?? 0) + 1)
      if (kinds.get(kind)! > 2) continue
      const button = cora.getByRole('button', { name, exact: true }).and(buttons).first()
      if (!(await button.isVisible())) continue
      // one that is gone by now is none
      await button.evaluateAll((all) => (all[0] as HTMLButtonElement | undefined)?.click())
      pressed.push(`${view}: ${name}`)
      const no = cora.getByRole('alert').filter({ hasText: 'but not change it' })
      if ((await no.count()) > 0) {
        refused.push(pressed.at(-1)!)
        await cora.getByRole('button', { name: 'Dismiss' }).click()
      }
      await cora.keyboard.press('Escape')
      if (!new URL(cora.url()).pathname.endsWith(`/${view}`)) await open()
    }
    await expect(cora.locator('[data-saving]')).toHaveCount(0)
  }
  expect(pressed.length).toBeGreaterThan(30)
  expect(refused).toEqual([])
  const { steps } = await studio.done<{ steps: unknown[] }>(
    'GET',
    `/api/stories/${sample.id}/history`,
    undefined,
    seats.Ada,
  )
  expect(steps).toHaveLength(0)
})
