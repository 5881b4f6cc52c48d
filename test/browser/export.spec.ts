import { readFileSync } from 'node:fs'
import { expect, openStory, settled, test } from './app'
import { quay } from '../quay'

const story = quay(
  [
    {
      id: 'here',
      lines: [{ id: 'first', text: 'The tide turns.', notes: 'private' }],
      choices: [{ id: 'go', text: 'Go on', to: 'quay.end' }],
    },
    { id: 'attic', lines: [{ text: 'Nobody comes here.' }], onward: [{ to: 'quay.end' }] },
    { id: 'end', lines: [{ text: 'Dry feet.' }], ending: 'across' },
  ],
  { title: 'Out of the drawer' },
)

test('the page is written, played and kept from the Export view, and bundles leave out what is on no route', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, story)
  await settled(page)
  await page.getByRole('link', { name: 'Export', exact: true }).click()
  await page.getByLabel('Beneath the title').fill('A short walk')
  await page.getByLabel('Ground').selectOption('sea')
  await page.getByLabel('a journal of the quests').uncheck()
  await expect(page.getByText('What is saved is what leaves.')).toBeVisible()
  await expect
    .poll(async () => (await app.get<{ story: { page: object } }>(`/api/stories/${id}`)).story.page)
    .toEqual({ blurb: 'A short walk', ground: 'sea', hides: 'journal' })
  await page.reload()
  await expect(page.getByLabel('Beneath the title')).toHaveValue('A short walk')
  await expect(page.getByLabel('a journal of the quests')).not.toBeChecked()
  const [played] = await Promise.all([
    page.waitForEvent('popup'),
    page.getByRole('link', { name: 'Play it here' }).click(),
  ])
  await expect(played.getByText('A short walk')).toBeVisible()
  await played.getByRole('button', { name: 'Begin' }).click()
  await played.getByRole('button', { name: 'Go on' }).click()
  await expect(played.getByRole('heading', { level: 2 })).toContainText('Across')
  await played.close()

  await page.getByRole('button', { name: 'What is not in it?' }).click()
  await expect(page.getByText('The whole course of the story is in it.')).toBeVisible()

  const saved = async (name: string) => {
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name }).click()])
    return { name: download.suggestedFilename(), text: readFileSync(await download.path(), 'utf8') }
  }
  const whole = await saved('Save the bundle')
  expect(whole.name).toBe('Out of the drawer.bundle.json')
  expect(whole.text).toContain('Nobody comes here.')
  expect(whole.text).not.toContain('private')
  await page.getByLabel('without what is on no route').check()
  await expect(page.getByRole('list', { name: 'What is left out' })).toHaveText('quay.attic')
  expect((await saved('Save the bundle')).text).not.toContain('Nobody comes here.')
  expect((await saved('Save the page')).text).toMatch(/^<!doctype html>(?!.*Nobody comes here)/s)
  expect((await saved('Save the story file')).text).toContain('private')
  // one that can not be made says why, once it is known
  let answer = () => {}
  await page.route('**/page?*', async (route) => {
    await new Promise<void>((resolve) => (answer = resolve))
    await route.fulfill({ status: 500, contentType: 'application/json', body: '{"message":"the disk is full"}' })
  })
  await page.getByRole('link', { name: 'Save the page' }).click()
  await expect(page.getByRole('link', { name: 'Save the page …' })).toHaveAttribute('aria-busy', 'true')
  answer()
  await expect(page.getByText('Nothing was saved: the disk is full')).toBeVisible()
  await expect(page.getByRole('link', { name: 'Save the page', exact: true })).toHaveAttribute('aria-busy', 'false')
  // undone like any other edit
  await page.keyboard.press('Control+z')
  await expect(page.getByLabel('a journal of the quests')).toBeChecked()
})
