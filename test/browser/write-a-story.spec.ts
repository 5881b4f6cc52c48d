import { expect, field, needle, settled, test } from './app'

/** What a field is called in the page; see the names that the Desk gives them. */

test('a story with two endings is written by keyboard, broken by a gate, seen, walked, and there after a reload', async ({
  page,
  app,
}) => {
  await page.goto(app.address)
  await page.getByLabel('Title of a new story').fill('The ferry at Sallow Bank')
  await page.keyboard.press('Enter')
  await page.waitForURL(/\/desk/)
  await settled(page)

  // The first beat: a line, the next line, then a choice, all without leaving the keyboard.
  await page.locator(field('opening.first#line1')).focus()
  await page.keyboard.type('The ferry lies at the bank.')
  await page.keyboard.press('Enter')
  await expect(page.locator(field('opening.first#line2'))).toBeFocused()
  await page.keyboard.type('Nobody is on board.')
  await page.keyboard.press('Control+Enter')
  await expect(page.locator(field('opening.first.choice'))).toBeFocused()
  await page.keyboard.type('Cast off')
  await page.keyboard.press('Enter')
  await expect(page.locator(field('opening.first.cast_off>to:edit'))).toBeFocused()
  await page.keyboard.type('downstream')
  await expect(page.getByRole('option', { name: /Create downstream/ })).toBeVisible()
  await page.keyboard.press('Enter')

  await page.locator(field('opening.first.cast_off')).focus()
  await page.keyboard.press('Control+Enter')
  await expect(page.locator(field('opening.first.choice'))).toBeFocused()
  await page.keyboard.type('Stay ashore')
  await page.keyboard.press('Enter')
  await page.keyboard.type('bank')
  await page.keyboard.press('Enter')
  await settled(page)
  await expect(page.getByRole('region', { name: 'Beat bank' })).toBeVisible()

  // Both new beats become endings.
  for (const [beat, ending] of [
    ['downstream', 'Carried to the sea'],
    ['bank', 'Dry feet'],
  ] as const) {
    await page.locator(field(`opening.${beat}#line1`)).focus()
    await page.keyboard.type(`This is ${beat}.`)
    const tools = page.getByRole('group', { name: `Add to ${beat}` })
    await tools.getByRole('button', { name: '+ ending' }).focus()
    await page.keyboard.press('Enter')
    await page.keyboard.type(ending)
    await page.keyboard.press('Enter')
  }
  await settled(page)
  await expect(needle(page)).toContainText('2 of 2 endings and stages reached')

  // A wrong gate: visits of a beat that comes after.
  await page.locator(field('opening.first.stay_ashore+when')).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type("visits('opening.bank') >= 1")
  await page.keyboard.press('Enter')
  await settled(page)
  await expect(page.locator(field('opening.first.stay_ashore?when'))).toHaveText('opens when bank visited')
  await expect(needle(page)).toContainText('1 of 2 endings and stages reached')
  await expect(page.locator('[data-consequence]')).toContainText('Dry feet no longer reached')

  // Bearings say so too, and the other ending is walked.
  await page.keyboard.press('Alt+5')
  await page.waitForURL(/\/bearings/)
  await expect(page.locator('[data-reach="dry_feet"]')).toHaveAttribute('data-verdict', 'unreached')
  await expect(page.locator('[data-reach="carried_to_the_sea"]')).toHaveAttribute('data-verdict', 'reached')
  await expect(page.locator('[data-finding="unreached"][data-key="dry_feet"]')).toBeVisible()
  await page.getByRole('button', { name: 'Walk it: Carried to the sea' }).press('Enter')
  await page.waitForURL(/\/rehearse/)
  await expect(page.locator('[data-ended="carried_to_the_sea"]')).toBeVisible()
  await page.keyboard.press('Backspace')
  await expect(page.locator('[data-closed="opening.first.stay_ashore"]')).toContainText('needs “bank visited”')
  await page.keyboard.press('1')
  await expect(page.getByText('This is downstream.')).toBeVisible()

  // Everything is there after a reload, and the database holds it.
  await page.keyboard.press('Alt+1')
  await page.waitForURL(/\/desk/)
  await page.reload()
  await settled(page)
  await expect(page.locator(field('opening.first#line2'))).toHaveValue('Nobody is on board.')
  await expect(page.locator(field('opening.first.stay_ashore?when'))).toHaveText('opens when bank visited')
  const id = await app.idOf('The ferry at Sallow Bank')
  const { story } = await app.get<{
    story: { scenes: { beats: { id: string; choices?: unknown[]; ending?: string }[] }[]; endings: unknown[] }
  }>(`/api/stories/${id}`)
  expect(story.endings).toEqual([
    { id: 'carried_to_the_sea', name: 'Carried to the sea' },
    { id: 'dry_feet', name: 'Dry feet' },
  ])
  expect(story.scenes[0]!.beats[0]!.choices).toEqual([
    { id: 'cast_off', text: 'Cast off', to: 'opening.downstream' },
    { id: 'stay_ashore', text: 'Stay ashore', when: "visits('opening.bank') >= 1", to: 'opening.bank' },
  ])

  // Undo survives the reload: the gate goes, and both endings are reached again.
  await page.keyboard.press('Control+z')
  await settled(page)
  await expect(needle(page)).toContainText('2 of 2 endings and stages reached')
})

test('what the story remembers is made where it is needed, and kept in the ledger', async ({ page, app }) => {
  await page.goto(app.address)
  await page.getByLabel('Title of a new story').fill('The bell at Sallow Bank')
  await page.keyboard.press('Enter')
  await page.waitForURL(/\/desk/)
  await settled(page)

  // Somebody who is not in the cast yet speaks.
  await page.locator(field('opening.first#line1')).fill('Tamsin: Ring it twice.')
  await page.getByRole('button', { name: 'Make Tamsin a speaker' }).click()
  await expect(page.getByRole('button', { name: /Tamsin speaks/ })).toBeVisible()
  await expect(page.locator(field('opening.first#line1'))).toHaveValue('Ring it twice.')

  // A choice rings a bell that nobody has declared: it is made in the sentence.
  await page.locator(field('opening.first#line1')).focus()
  await page.keyboard.press('Control+Enter')
  await expect(page.locator(field('opening.first.choice'))).toBeFocused()
  // a pause in the middle of a word saves it, and does not name the choice for good
  await page.keyboard.type('Ri')
  await expect(page.locator(field('opening.first.ri'))).toBeFocused()
  await page.keyboard.type('ng')
  await page.keyboard.press('Enter')
  await page.keyboard.type('opening.first')
  await page.keyboard.press('Enter')
  await page.locator(field('opening.first.ring+do')).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type('rings += 1')
  await expect(page.getByText('there is no ledger entry "rings"')).toBeVisible()
  await page.getByRole('button', { name: 'counter', exact: true }).click()
  await page.keyboard.press('Enter')
  await expect(page.locator(field('opening.first.ring?do1'))).toHaveText('rings +1')

  // Escape leaves an expression as it was.
  await page.locator(field('opening.first.ring?do1')).click()
  await page.keyboard.type(' + nonsense')
  await page.keyboard.press('Escape')
  await expect(page.locator(field('opening.first.ring?do1'))).toHaveText('rings +1')

  await page.keyboard.press('Alt+3')
  await page.waitForURL(/\/ledger/)
  await expect(page.locator('[data-ledger="rings"]')).toContainText('changed 1×')
  await page.getByLabel('Largest value of rings').fill('2')
  await page.keyboard.press('Enter')
  await page.getByLabel('Largest value of rings').fill('two')
  await expect(page.getByLabel('Largest value of rings')).toHaveAttribute('aria-invalid', 'true')
  await settled(page)
  await page.keyboard.press('Alt+2')
  await page.waitForURL(/\/quests/)
  await page.getByLabel('Name of a new quest').fill('Ring the bell')
  await page.keyboard.press('Enter')
  await expect(page.locator('[data-quest="ring_the_bell"]')).toContainText('ring_the_bell.done')
  await settled(page)
  await page.keyboard.press('Alt+3')
  await page.waitForURL(/\/ledger/)

  await page.reload()
  await settled(page)
  await expect(page.getByLabel('Largest value of rings')).toHaveValue('2')
  const { story } = await app.get<{ story: { ledger: unknown[]; cast: unknown[]; quests: { id: string }[] } }>(
    `/api/stories/${await app.idOf('The bell at Sallow Bank')}`,
  )
  expect(story.ledger).toEqual([{ id: 'rings', kind: 'counter', min: 0, max: 2 }])
  expect(story.cast).toEqual([{ id: 'tamsin', name: 'Tamsin' }])
  expect(story.quests.map(({ id }) => id)).toEqual(['ring_the_bell'])
  // three rings are more than the counter holds, and the survey says so
  await page.keyboard.press('Alt+5')
  await expect(page.locator('[data-finding="overrun"]')).toBeVisible()
})

test('the draft’s mistakes are explained', async ({ page, app }) => {
  await page.goto(`${app.address}/story/${await app.idOf('First draft of Hollin Reach')}/bearings`)
  await settled(page)
  await page.getByRole('button', { name: 'Why not: quay.morning.stay' }).click()
  await expect(page.locator('[data-why="quay.morning.stay"]')).toContainText('tide is 1, 3, 5, 7 here')
  await expect(page.locator('[data-why="quay.morning.stay"]')).toContainText('steps over 0')
  await page.getByRole('button', { name: 'Walk it: dead end mill.tamsin' }).click()
  await expect(page.getByText('The player is stuck here')).toBeVisible()
  await page.keyboard.press('F8')
  await page.waitForURL(/\/desk#/)
})
