import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import AxeBuilder from '@axe-core/playwright'
import { expect, test as base, type Page } from '@playwright/test'
import type { RouteItem, Story } from '../../src/core/story/types'
import { quay } from '../quay'

/** The page as a friend gets it: one file, opened from the disk. Nothing is asked of any network. */
const test = base.extend<{ folder: string }>({
  folder: async ({ page }, give) => {
    const asked: string[] = []
    const errors: string[] = []
    page.on('request', (request) => {
      if (!/^(file|blob|data):/.test(request.url())) asked.push(request.url())
    })
    page.on('console', (message) => message.type() === 'error' && errors.push(message.text()))
    page.on('pageerror', (error) => errors.push(error.message))
    await give(mkdtempSync(join(tmpdir(), 'paper-compass-page-')))
    expect({ asked, errors }).toEqual({ asked: [], errors: [] })
  },
})

const SAMPLE = resolve('samples/causeway.story.json')
const sample = () => JSON.parse(readFileSync(SAMPLE, 'utf8')) as Story

function cli(...args: string[]): string {
  const done = spawnSync(resolve('bin/paper-compass'), args, { encoding: 'utf8', maxBuffer: 1 << 28 })
  if (done.status !== 0 && done.status !== 1) throw new Error(done.stderr)
  return done.stdout
}

/** Writes a story and its page; gives the page's address. */
function built(folder: string, story: Story, name = 'page'): string {
  mkdirSync(folder, { recursive: true })
  const file = join(folder, `${name}.story.json`)
  const page = join(folder, `${name}.html`)
  writeFileSync(file, JSON.stringify(story))
  cli('build', file, '-o', page)
  return pathToFileURL(page).href
}

/** Opens the page again, until it knows that one was there: a browser may show a page anew before it has written down what the last one kept. */
async function openedAgain(page: Page, address: string, name: string): Promise<void> {
  await expect(async () => {
    await page.goto(address)
    await expect(page.getByRole('button', { name })).toBeVisible({ timeout: 5_000 })
  }).toPass({ timeout: 60_000 })
}

const noFaults = async (page: Page) => {
  // other tools' frames are not of the page
  const { violations } = await new AxeBuilder({ page }).setLegacyMode(true).analyze()
  expect(violations.map(({ id, nodes }) => [id, nodes.map(({ html }) => html)])).toEqual([])
}

async function play(page: Page, route: readonly RouteItem[]): Promise<void> {
  for (const item of route) {
    if ('choice' in item) await page.locator(`[data-choice="${item.choice}"]`).click()
    else if ('word' in item) {
      await page.locator('#word').fill(item.word)
      await page.keyboard.press('Enter')
    }
  }
}

test('the shortest route of every ending is played from the file, and the file is small', async ({ page, folder }) => {
  const address = built(folder, sample())
  expect(readFileSync(join(folder, 'page.html')).length).toBeLessThan(500_000)
  const survey = JSON.parse(cli('survey', SAMPLE, '--format', 'json')) as {
    reached: { endings: Record<string, { route: RouteItem[] }> }
  }
  const names = new Map(sample().endings!.map(({ id, name }) => [id, name]))
  expect(Object.keys(survey.reached.endings)).toHaveLength(4)
  for (const [ending, { route }] of Object.entries(survey.reached.endings)) {
    await page.goto(address)
    await page.evaluate(() => localStorage.clear())
    await page.reload()
    await page.getByRole('button', { name: 'Begin' }).click()
    await play(page, route)
    await expect(page.getByRole('heading', { level: 2 })).toHaveText(`The end ${names.get(ending)!}`)
  }
})

for (const [look, width] of [
  ['light', 1280],
  ['dark', 360],
] as const)
  test(`a checker of access finds nothing, ${look}, ${width} pixels wide`, async ({ page, folder }) => {
    await page.setViewportSize({ width, height: 800 })
    await page.emulateMedia({ colorScheme: look })
    const address = built(folder, {
      ...sample(),
      page: {
        author: 'A made-up hand',
        blurb: 'Six hours of sand.',
        credits: 'Everybody on the quay',
        playtests: 'ask',
      },
    })
    const fits = async () =>
      expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(width)
    await page.goto(address)
    await expect(page.getByText('Six hours of sand.')).toBeVisible()
    await noFaults(page)
    await fits()
    await page.getByRole('button', { name: 'Begin' }).click()
    await noFaults(page)
    await fits()
    for (const name of ['Journal', 'Bag', 'Settings']) {
      await page.getByRole('button', { name, exact: true }).click()
      await expect(page.getByRole('dialog')).toBeVisible()
      await noFaults(page)
      await fits()
      await page.keyboard.press('Escape')
      await expect(page.getByRole('dialog')).toBeHidden()
      await expect(page.getByRole('button', { name, exact: true })).toBeFocused()
    }
    await page.getByRole('button', { name: 'Settings' }).click()
    for (let press = 0; press < 5; press += 1) await page.getByRole('button', { name: 'Larger' }).click()
    await page.keyboard.press('Escape')
    await fits()
  })

const small = (more: Partial<Story> = {}): Story =>
  quay(
    [
      {
        id: 'here',
        lines: [{ id: 'first', text: 'The tide turns.' }],
        choices: [
          { id: 'go', text: 'Go on', do: ["quest.cross = 'asked'"], to: 'quay.sand' },
          { id: 'fly', text: 'Fly', when: 'rope > 3', closed: 'show', to: 'quay.end' },
        ],
      },
      {
        id: 'sand',
        lines: [{ id: 'second', text: 'Wet sand.' }],
        choices: [{ id: 'on', text: 'Further', to: 'quay.end' }],
      },
      { id: 'end', lines: [{ text: 'Dry feet.' }], ending: 'across' },
    ],
    {
      title: 'Two steps',
      ledger: [{ id: 'rope', kind: 'item', max: 3, initial: 2, name: 'Coil of rope' }],
      quests: [
        { id: 'cross', name: 'Cross over', stages: [{ id: 'asked', name: 'Asked', journal: 'Take {rope} coils.' }] },
      ],

      ...more,
    },
  )

test('by keyboard alone, with the focus where the new text is; journal and bag tell what is so', async ({
  page,
  folder,
}) => {
  await page.goto(built(folder, small()))
  await expect(page.getByRole('button', { name: 'Begin' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.locator('.passage').last()).toBeFocused()
  await expect(page.locator('.passage').last()).toContainText('The tide turns.')
  await expect(page.locator('.closed')).toContainText('Fly — needs Coil of rope is more than 3')
  await page.keyboard.press('1')
  await expect(page.locator('.passage').last()).toHaveText(/Go on\s*Wet sand\./)
  await expect(page.locator('.passage').last()).toBeFocused()
  await page.getByRole('button', { name: 'Journal' }).click()
  await expect(page.getByRole('dialog')).toContainText(/Cross over\s*Asked\s*Take 2 coils\./)
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Bag' }).click()
  await expect(page.getByRole('dialog')).toContainText('Coil of rope × 2')
  await page.keyboard.press('Escape')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Tab')
  await page.locator('[data-choice="quay.sand.on"]').press('Enter')
  await expect(page.getByRole('heading', { level: 2 })).toContainText('Across')
})

test('one goes on where one was, also in a newer version, and begins anew on asking', async ({ page, folder }) => {
  const address = built(folder, small())
  await page.goto(address)
  await page.getByRole('button', { name: 'Begin' }).click()
  await page.keyboard.press('1')
  await openedAgain(page, address, 'Go on')
  await page.getByRole('button', { name: 'Go on' }).click()
  await expect(page.locator('.said')).toContainText('The tide turns.')
  await expect(page.locator('.said')).toContainText('Wet sand.')
  await expect(page.locator('[data-choice="quay.sand.on"]')).toBeFocused()
  // the author sends a version in which the choice is called otherwise
  const newer = small()
  newer.scenes[0]!.beats[1]!.choices![0]!.text = 'Over the ridge'
  built(folder, newer)
  await page.goto(address)
  await page.getByRole('button', { name: 'Go on' }).click()
  await expect(page.getByRole('status')).toHaveText('The story was changed since you were here.')
  await expect(page.getByRole('button', { name: 'Over the ridge' })).toBeVisible()
  // and one in which the beat is gone
  const without = small()
  without.scenes[0]!.beats[0]!.choices![0]!.to = 'quay.end'
  without.scenes[0]!.beats.splice(1, 1)
  built(folder, without)
  await page.goto(address)
  await page.getByRole('button', { name: 'Go on' }).click()
  await expect(page.getByRole('status')).toContainText('You go on from a place that is still there.')
  await expect(page.locator('.passage').last()).toContainText('The tide turns.')
  await page.getByRole('button', { name: 'Settings' }).click()
  await page.getByRole('button', { name: 'Start anew' }).click()
  await expect(page.getByRole('dialog')).toContainText('will be forgotten')
  await page.getByRole('dialog').getByRole('button', { name: 'Start anew' }).click()
  await expect(page.locator('.said')).toHaveText('The tide turns.')
})

test('another language from right to left, and the light, are kept', async ({ page, folder }) => {
  const languages = {
    he: {
      texts: {
        'line/quay.here/first': { text: 'הגאות מסתובבת.' },
        'choice/quay.here.go': { text: 'הלאה' },
        'line/quay.sand/second': { text: 'חול רטוב.' },
      },
    },
  }
  await page.goto(built(folder, small({ languages })))
  await page.getByRole('button', { name: 'Begin' }).click()
  await page.getByRole('button', { name: 'Settings' }).click()
  await page.getByLabel('Language').selectOption('he')
  await page.getByLabel('Light or dark').selectOption('night')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'הלאה' }).click()
  await expect(page.locator('.passage').last()).toContainText('חול רטוב.')
  await expect(page.locator('html')).toHaveAttribute('dir', 'rtl')
  await page.reload()
  await page.locator('button.main').click()
  await expect(page.locator('html')).toHaveAttribute('lang', 'he')
  await expect(page.locator('html')).toHaveAttribute('data-look', 'night')
})

test('nothing that an author writes is markup, and a damaged file says so', async ({ page, folder }) => {
  const evil =
    '</script><script>document.title = "owned"</script><img src=x onerror="document.title=\'owned\'"> & <b>bold</b> ]]> <!--'
  const story = small({
    title: evil,
    page: { blurb: evil, credits: evil, author: evil, accent: 'red;}*{display:none' },
  })
  story.scenes[0]!.beats[0]!.lines = [{ id: 'first', text: evil }]
  story.scenes[0]!.beats[0]!.choices![0]!.text = evil
  const address = built(folder, story)
  await page.goto(address)
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(evil)
  await page.getByRole('button', { name: 'Begin' }).click()
  await expect(page.locator('.line')).toHaveText(evil)
  await page.keyboard.press('1')
  await expect(page.locator('.chosen')).toHaveText(evil)
  expect(await page.title()).toBe(evil)
  expect(await page.locator('#page img, #page b').count()).toBe(0)
  const file = join(folder, 'page.html')
  writeFileSync(file, readFileSync(file, 'utf8').replace('"paperCompassBundle":1', '"paperCompassBundle":7'))
  await page.goto(address)
  await expect(page.getByRole('alert')).toContainText('This file is damaged')
})

test('a record is kept only after one agreed, and given as a file', async ({ page, folder }) => {
  const address = built(folder, small({ page: { playtests: 'ask' } }))
  await page.goto(address)
  await page.getByRole('button', { name: 'Begin' }).click()
  await page.keyboard.press('1')
  await page.keyboard.press('1')
  await expect(page.getByRole('heading', { level: 2 })).toContainText('Across')
  await expect(page.getByRole('button', { name: 'Save the record' })).toHaveCount(0)
  await openedAgain(page, address, 'Start anew')
  await page.getByLabel(/Keep a record/).check()
  await page.getByRole('button', { name: 'Start anew' }).click()
  await page.keyboard.press('1')
  await page.keyboard.press('1')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the record' }).click(),
  ])
  const record = JSON.parse(readFileSync(await download.path(), 'utf8')) as object
  expect(record).toMatchObject({
    paperCompassPlaytest: 1,
    title: 'Two steps',
    steps: [
      { item: { choice: 'quay.here.go' }, at: 'quay.here' },
      { item: { choice: 'quay.sand.on' }, at: 'quay.sand' },
    ],
    stopped: { at: 'quay.end', status: 'ended', ending: 'across' },
  })
})
