import type { Page } from '@playwright/test'
import { expect, field, needle, openStory, settled, shortStory, test } from './app'

const story = shortStory('What fails', 'Here.')

/** From now on requests to an address are refused by the server, until it is undone. */
async function refuse(page: Page, address: string): Promise<() => Promise<void>> {
  await page.route(address, (route) =>
    route.fulfill({
      status: 500,
      contentType: 'application/json',
      body: JSON.stringify({ message: 'the disk is full' }),
    }),
  )
  return () => page.unroute(address)
}

test('a history that can not be read says so and is read again on asking; a name that can not be given is told', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, story)
  await page.locator(field('quay.here#line1')).fill('Here we are.')
  await settled(page)
  const undo = await refuse(page, '**/api/stories/*/history*')
  await page.getByRole('link', { name: 'History' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'could not be read' })).toContainText('the disk is full')
  await undo()
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect(page.locator('[data-step="1"]')).toBeVisible()
  const back = await refuse(page, '**/api/stories/*/versions*')
  await page.getByLabel('Name of the version').fill('Before')
  await page.getByRole('button', { name: 'Name this version' }).click()
  await expect(page.getByText('The version could not be named: the disk is full')).toBeVisible()
  await back()
  expect((await app.get<{ versions: unknown[] }>(`/api/stories/${id}/history`)).versions).toEqual([])
})

test('while the server refuses to save, edits stay, and undo says what it waits for', async ({ page, app }) => {
  const id = await openStory(page, app, story)
  const undo = await refuse(page, '**/api/stories/*/changes')
  await page.locator(field('quay.here#line1')).fill('Not yet on disk.')
  await expect(page.locator('[data-saving]')).toHaveAttribute('data-saving', 'failed')
  await page.locator(field('quay.here#line1')).press('Control+z')
  await expect(page.getByText('This waits until your edits are saved')).toBeVisible()
  await expect(page.locator(field('quay.here#line1'))).toHaveValue('Not yet on disk.')
  await undo()
  await settled(page)
  const { story: stored } = await app.get<{ story: typeof story }>(`/api/stories/${id}`)
  expect(stored.scenes[0]!.beats[0]!.lines![0]!.text).toBe('Not yet on disk.')
})

test('a survey’s worker that ends in the middle of a question leaves nobody waiting', async ({ context, app }) => {
  const page = await context.newPage()
  await page.addInitScript(() => {
    const Real = window.Worker
    window.Worker = class extends Real {
      override postMessage(message: { type?: string; name?: string }): void {
        if (message.type === 'ask' && message.name === 'reading-list')
          this.dispatchEvent(new ErrorEvent('error', { message: 'out of memory' }))
        else super.postMessage(message)
      }
    }
  })
  await openStory(page, app, story)
  await page.getByRole('link', { name: 'Bearings' }).click()
  await page.getByRole('button', { name: 'Make a reading list' }).click()
  await expect(page.getByText('The reading list could not be made: out of memory')).toBeVisible()
  // another worker surveys the story, and answers what it is asked
  await expect(page.getByText('The survey failed')).toHaveCount(0)
  await expect(needle(page)).toContainText('exact')
  // what is written is still saved
  await page.getByRole('link', { name: 'Desk' }).click()
  await page.locator(field('quay.here#line1')).fill('Written all the same.')
  await expect(page.locator('[data-saving]')).toHaveAttribute('data-saving', 'saved')
})

test('a story that was surveyed before shows what was found at once, and any edit has it surveyed anew', async ({
  context,
  page,
  app,
}) => {
  const id = await openStory(page, app, story)
  const said = (await needle(page).textContent())!.replace(/\d+ ms$/, '')
  const kept = async () => (await app.get<{ survey: { took: number } | null }>(`/api/stories/${id}`)).survey
  await expect.poll(kept).not.toBeNull()
  // a page whose survey never comes to anything
  const other = await context.newPage()
  await other.addInitScript(() => {
    window.Worker.prototype.postMessage = () => undefined
  })
  await other.goto(page.url())
  await settled(other)
  await expect(needle(other)).toContainText(said)
  await expect(other.getByTitle('All findings (F8: the next one)')).toHaveText(
    (await page.getByTitle('All findings (F8: the next one)').textContent())!,
  )
  await other.locator(field('quay.here#line1')).fill('Another line.')
  await expect(other.locator('[data-saving]')).toHaveAttribute('data-saving', 'saved')
  expect(await kept()).toBeNull()
  await other.getByRole('link', { name: 'Library' }).click()
  await other.goto(page.url())
  await expect(other.locator('[data-needle]')).toHaveAttribute('data-needle', 'moving')
})

test('two windows on one beat: both lines are kept, and of two texts for one line the later is kept with its words', async ({
  page,
  app,
  browser,
}) => {
  const two = {
    ...story,
    scenes: story.scenes.map((scene) => ({
      ...scene,
      beats: scene.beats.map((beat) =>
        beat.id === 'here' ? { ...beat, lines: [{ text: 'The first line.' }, { text: 'The second line.' }] } : beat,
      ),
    })),
  }
  const id = await openStory(page, app, two)
  const other = await browser.newPage()
  await other.goto(`${app.address}/story/${id}/desk`)
  await settled(other)
  // what this window says is late
  const hold = { until: Promise.resolve(), release: () => {} }
  const late = () => (hold.until = new Promise<void>((release) => (hold.release = release)))
  await page.route('**/changes', async (route) => {
    await hold.until
    await route.continue()
  })
  const saved = async () => {
    const opened = await app.get<{ story: typeof two }>(`/api/stories/${id}`)
    return opened.story.scenes[0]!.beats.find((beat) => beat.id === 'here')!.lines!.map(({ text }) => text)
  }
  const line = (at: number) => field(`quay.here#line${at}`)

  void late()
  await page.locator(line(1)).fill('Mine is the first.')
  await other.locator(line(2)).fill('Theirs is the second.')
  await settled(other)
  hold.release()
  await settled(page)
  expect(await saved()).toEqual(['Mine is the first.', 'Theirs is the second.'])
  await expect(other.locator(line(1))).toHaveValue('Mine is the first.')
  await expect(page.locator(line(2))).toHaveValue('Theirs is the second.')

  void late()
  await page.locator(line(1)).fill('What I write now.')
  await other.locator(line(1)).fill('What they write now.')
  await settled(other)
  hold.release()
  await expect(page.getByRole('alert').filter({ hasText: 'An edit was refused' })).toContainText('What they write now.')
  expect((await saved())[0]).toBe('What they write now.')
  // the words are there after a reload too
  await page.reload()
  await page.getByRole('button', { name: 'Look at it' }).click()
  const dialog = page.getByRole('dialog', { name: 'Edits that were not saved' })
  await expect(dialog).toContainText('What I write now.')
  await dialog.getByRole('button', { name: 'Make it anew' }).click()
  await expect(dialog).toContainText('Nothing is left to see to')
  await dialog.getByRole('button', { name: 'Close' }).click()
  await settled(page)
  await expect(page.locator(line(1))).toHaveValue('What I write now.')
  expect(await saved()).toEqual(['What I write now.', 'Theirs is the second.'])
  await other.close()
})

test('in a dialog Escape leaves the field first, and then the dialog; the focus goes back to where it came from', async ({
  page,
  app,
}) => {
  await openStory(page, app, story)
  await page.getByRole('link', { name: 'Rehearse' }).click()
  const opener = page.getByRole('button', { name: 'Begin elsewhere' })
  await opener.focus()
  await page.keyboard.press('Enter')
  await page.locator(field('begin:with')).click()
  await page.locator(field('begin:with:edit')).fill('visits(')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toBeVisible()
  await expect(async () => {
    await page.keyboard.press('Escape')
    await expect(page.getByRole('dialog')).toHaveCount(0, { timeout: 500 })
  }).toPass({ timeout: 5_000 })
  await expect(opener).toBeFocused()
})
