import { openStory, needle, settled, test } from './app'
import { expect } from '@playwright/test'

const small = (title: string, more: object = {}) => ({
  paperCompass: 1,
  title,
  language: 'en',
  start: 'quay.here',
  endings: [
    { id: 'across', name: 'Across' },
    { id: 'lost', name: 'Lost', notes: 'todo: who finds them?' },
  ],
  scenes: [
    {
      id: 'quay',
      title: 'Quay',
      beats: [
        {
          id: 'here',
          lines: [{ id: 'l1', text: 'The tide turns.' }],
          choices: [{ id: 'go', text: 'Go', to: 'quay.end' }],
        },
        { id: 'end', ending: 'across' },
      ],
    },
  ],
  ...more,
})

test('each story is listed with what its last survey said, in the order one asks for', async ({ page, app }) => {
  await page.goto(app.address)
  const row = (title: string) =>
    page.locator('[data-story]').filter({ has: page.getByRole('link', { name: title, exact: true }) })
  // the samples are surveyed before anybody opens them; other tests' stories may have pushed them off the first page
  await page.getByLabel('Search the titles').fill('Hollin Reach')
  await expect(row('The Causeway at Hollin Reach')).toContainText(/4 of 4 endings and \d+ of \d+ stages reached/)
  await expect(row('First draft of Hollin Reach')).toContainText(/\d+ errors?/)
  const id = await openStory(page, app, small('Facts of a quay'))
  await settled(page)
  await expect
    .poll(
      async () => (await app.get<{ cards: { id: string; isSurveyed: boolean }[] }>('/api/stories?q=Facts')).cards[0],
    )
    .toMatchObject({ id, isSurveyed: true })
  await page.goto(app.address)
  await expect(page.getByLabel('Search the titles')).toHaveValue('')
  await expect(row('Facts of a quay')).toContainText('1 of 2 endings reached')
  await expect(row('Facts of a quay')).toContainText('1 to do')
  await expect(row('Facts of a quay')).toContainText('4 words')
  await page.getByLabel('Order by').selectOption('errors')
  await expect(page.locator('[data-story]').first()).toContainText('First draft of Hollin Reach')
  await page.getByLabel('Search the titles').fill('causeway')
  await expect(row('Facts of a quay')).toHaveCount(0)
  await expect(row('First draft of Hollin Reach')).toHaveCount(0)
  // other tests may have made copies of it
  await expect(row('The Causeway at Hollin Reach').first()).toBeVisible()
})

test('a story begins with a script: its heading, speakers and choices are in it', async ({ page, app }) => {
  await page.goto(app.address)
  await page.getByRole('button', { name: 'From a script…' }).click()
  await expect(page.getByLabel('The script')).toBeFocused()
  await page.keyboard.insertText('# At the gate\nODILE\nWho goes there?\n\nTamsin: It is me.\n- Open it\n- Wait')
  await expect(page.getByRole('dialog')).toContainText(
    '2 lines · 2 choices · 1 new beat · 2 new speakers: Odile, Tamsin',
  )
  await page.getByRole('button', { name: 'Begin “At the gate”' }).click()
  await expect(page).toHaveURL(/\/desk/)
  await settled(page)
  const id = /story\/([^/]+)/.exec(page.url())![1]!
  const { story } = await app.get<{
    story: { title: string; cast: { name: string }[]; scenes: { beats: object[] }[] }
  }>(`/api/stories/${id}`)
  expect(story).toMatchObject({
    title: 'At the gate',
    cast: [{ name: 'Odile' }, { name: 'Tamsin' }],
    scenes: [
      {
        beats: [
          {
            title: 'At the gate',
            lines: [{ text: 'Who goes there?' }, { text: 'It is me.' }],
            choices: [{ text: 'Open it' }, { text: 'Wait' }],
          },
        ],
      },
    ],
  })
})

test('undo takes back the own edit; the other window’s only on asking', async ({ page, app, context }) => {
  const id = await openStory(page, app, small('Two hands'))
  await settled(page)
  const other = await context.newPage()
  await other.goto(`${app.address}/story/${id}/desk`)
  await settled(other)
  const write = async (on: typeof page, text: string) => {
    await on.getByText('The tide turns.').first().click()
    await on.keyboard.press('End')
    await on.keyboard.press('Enter')
    await on.keyboard.type(text)
    // leaving the line saves it
    await on.keyboard.press('Tab')
  }
  const texts = async () => {
    const { story } = await app.get<{ story: { scenes: { beats: { lines?: { text: string }[] }[] }[] } }>(
      `/api/stories/${id}`,
    )
    return story.scenes[0]!.beats[0]!.lines!.map(({ text }) => text)
  }
  await write(page, 'Mine.')
  await expect.poll(texts).toEqual(['The tide turns.', 'Mine.'])
  await expect(other.getByText('Mine.')).toBeVisible()
  await write(other, 'Theirs.')
  await expect.poll(texts).toEqual(['The tide turns.', 'Theirs.', 'Mine.'])
  await expect(page.getByText('Theirs.')).toBeVisible()
  // a reload is the same window
  await page.reload()
  await settled(page)
  const undo = page.getByRole('button', { name: 'Undo', exact: true })
  for (;;) {
    await undo.click()
    await page.waitForTimeout(300)
    if (await page.getByRole('button', { name: 'Take it back' }).isVisible()) break
    expect((await texts()).includes('Theirs.')).toBe(true)
  }
  expect(await texts()).toEqual(['The tide turns.', 'Theirs.'])
  await expect(page.getByRole('alert').filter({ hasText: 'elsewhere' })).toBeVisible()
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect.poll(async () => (await texts()).includes('Theirs.')).toBe(false)
  await expect(needle(other)).toBeVisible()
})
