import type { Story } from '../../src/core/story/types'
import { addToBeat, type App, expect, field, openStory, settled, test } from './app'

const stored = (app: App, id: string) => app.get<{ story: Story }>(`/api/stories/${id}`).then(({ story }) => story)

const lake = () => ({
  paperCompass: 1,
  title: 'The lake',
  language: 'en',
  start: 'lake.shore',
  cast: [{ id: 'odile', name: 'Odile' }],
  endings: [{ id: 'far', name: 'Over the ice' }],
  scenes: [
    {
      id: 'lake',
      title: 'The lake',
      beats: [
        {
          id: 'shore',
          lines: [{ speaker: 'odile', text: 'Wait for it.' }],
          choices: [
            { id: 'wait', text: 'Wait', to: 'lake.shore' },
            { id: 'skate', text: 'Skate over', to: 'lake.over' },
          ],
        },
        { id: 'over', lines: [{ text: 'Ice.' }], ending: 'far' },
      ],
    },
  ],
})

test('what the game gives is made in one step, is read by a gate, and opens a choice before one’s eyes', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, lake())
  await page.getByRole('link', { name: 'Ledger', exact: true }).click()
  await page.getByLabel('Name of a new entry').fill('Frost')
  await page.getByLabel('Who sets the new entry').selectOption('rest')
  await page.getByRole('button', { name: 'Remember it' }).click()
  await settled(page)
  expect((await stored(app, id)).ledger).toEqual([{ id: 'frost', kind: 'flag', name: 'Frost', given: 'rest' }])
  await page.getByRole('link', { name: 'Desk', exact: true }).click()
  await page.locator(field('lake.shore.skate+when')).focus()
  await page.keyboard.press('Enter')
  await page.locator(field('lake.shore.skate?when:edit')).fill('frost')
  await page.keyboard.press('Enter')
  // an effect on it says why that can't be
  await page.locator(field('lake.shore.wait+do')).focus()
  await page.keyboard.press('Enter')
  await page.locator(field('lake.shore.wait?do1:edit')).fill('frost = true')
  await expect(page.getByText('given by the game: the story only reads it')).toBeVisible()
  await page.keyboard.press('Escape')
  await settled(page)
  await page.getByRole('link', { name: 'Rehearse', exact: true }).click()
  await expect(page.locator('[data-choice="lake.shore.wait"]')).toBeVisible()
  await expect(page.locator('[data-closed="lake.shore.skate"]')).toContainText('Frost is no')
  await page.keyboard.press('1')
  await page.getByLabel('The game sets Frost').check()
  await expect(page.locator('[data-choice="lake.shore.skate"]')).toBeVisible()
  await expect(page.getByText('the game sets Frost: yes').first()).toBeVisible()
  await page.keyboard.press('2')
  await expect(page.locator('[data-ended="far"]')).toBeVisible()
})

test('lines take turns, cues are set by a key, names hold until known, and a title of any script is a beat’s name', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, lake())
  const line = page.locator(field('lake.shore#line1'))
  await line.focus()
  await page.keyboard.press('Alt+c')
  await page.locator(field('lake.shore#line1?cue')).fill('Ice cracks: twice')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'Cue Ice cracks: twice; change it' })).toBeVisible()
  await addToBeat(page, 'shore', 'turns')
  await page.locator(field('lake.shore#line2.turn1.line1')).fill('First.')
  await page.locator(field('lake.shore#line2.turn2.line1')).fill('Then.')
  await page.getByLabel('What comes after the last turn').selectOption('last')
  const name = page.locator(field('lake.over:name'))
  await name.fill('東の桟橋')
  await name.press('Enter')
  await settled(page)
  const story = await stored(app, id)
  expect(story.cues).toEqual([{ id: 'ice_cracks', name: 'Ice cracks' }])
  const [shore, over] = story.scenes[0]!.beats
  expect(shore!.lines![0]).toMatchObject({ cues: [{ cue: 'ice_cracks', with: 'twice' }] })
  expect(shore!.lines![1]).toMatchObject({
    order: 'last',
    inTurn: [{ lines: [{ text: 'First.' }] }, { lines: [{ text: 'Then.' }] }],
  })
  const turn = (shore!.lines![1] as { inTurn: { lines: { id?: string }[] }[] }).inTurn[0]!.lines[0]!
  expect(turn.id).toMatch(/^[a-z][a-z0-9]{5}$/)
  // a road names the beat, so its id stays
  expect(over).toMatchObject({ id: 'over', title: '東の桟橋' })
  await expect(page.locator('.road').filter({ hasText: '東の桟橋' })).toBeVisible()

  await page.getByRole('link', { name: 'Ledger', exact: true }).click()
  await page.getByRole('button', { name: 'Odile is called otherwise until known' }).click()
  await page.getByLabel('What Odile is called, 1').fill('somebody in grey')
  await page.getByLabel('What Odile is called, 1').blur()
  await settled(page)
  await page.getByRole('link', { name: 'Rehearse', exact: true }).click()
  await expect(page.getByText('First.')).toBeVisible()
  await expect(page.locator('[data-cue="ice_cracks"]')).toBeVisible()
  await page.keyboard.press('1')
  await expect(page.getByText('Then.')).toBeVisible()
})

test('what happens to players in the middle is told, walked in the old version and gone on with in the new one', async ({
  page,
  app,
}) => {
  await openStory(page, app, lake())
  await page.getByRole('link', { name: 'History' }).click()
  await page.getByLabel('Name of the version').fill('As it was')
  await page.keyboard.press('Enter')
  await expect(page.locator('[data-version="As it was"]')).toBeVisible()
  // players have it: from now on the needle says what an edit does to them
  const released = page.getByRole('button', { name: 'Players have As it was' })
  await released.click()
  await expect(released).toHaveAttribute('aria-pressed', 'true')
  await page.getByRole('link', { name: 'Desk', exact: true }).click()
  // the only way on is closed to whoever was here before
  await page.locator(field('lake.shore.skate+when')).focus()
  await page.keyboard.press('Enter')
  await page.locator(field('lake.shore.skate?when:edit')).fill("visits('lake.shore') == 1")
  await page.keyboard.press('Enter')
  await settled(page)
  const stranded = page.locator('[data-released]')
  await expect(stranded).toHaveText('players of “As it was” would be stranded: 1')
  await page.getByRole('button', { name: 'Undo' }).first().click()
  await expect(stranded).toHaveCount(0)
  await page.getByRole('button', { name: 'Redo' }).click()
  await expect(stranded).toBeVisible()
  await page.reload()
  await settled(page)
  await stranded.click()
  const finding = page.locator('[data-carried-finding="carried-no-way-out lake.shore"]')
  await expect(finding).toBeVisible()
  await finding.getByRole('button', { name: 'walk it in the old version' }).click()
  await expect(finding.locator('[data-walked]')).toContainText('Wait for it.')
  await finding.getByRole('button', { name: 'go on in the new one' }).click()
  await expect(page.locator('[data-loaded="lake.shore"]')).toBeVisible()
  await expect(page.locator('[data-choice="lake.shore.wait"]')).toBeVisible()
  await expect(page.locator('[data-closed="lake.shore.skate"]')).toBeVisible()
})

test('a playthrough is put away as a file and taken up again; a damaged one is told of', async ({ page, app }) => {
  await openStory(page, app, lake())
  await page.getByRole('link', { name: 'Rehearse', exact: true }).click()
  await expect(page.locator('[data-choice="lake.shore.wait"]')).toBeVisible()
  await page.keyboard.press('1')
  await expect(page.getByText('1 decision taken')).toBeVisible()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save', exact: true }).click(),
  ])
  expect(download.suggestedFilename()).toMatch(/\.save\.json$/)
  await page.getByRole('button', { name: 'From the start' }).click()
  await page.getByLabel('A save to load').setInputFiles(await download.path())
  await expect(page.locator('[data-loaded="lake.shore"]')).toBeVisible()
  await page.keyboard.press('2')
  await expect(page.locator('[data-ended="far"]')).toBeVisible()
  await page
    .getByLabel('A save to load')
    .setInputFiles({ name: 'broken.save.json', mimeType: 'application/json', buffer: Buffer.from('{"at":') })
  await expect(page.getByText('this save can not be read')).toBeVisible()
})
