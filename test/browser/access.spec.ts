import AxeBuilder from '@axe-core/playwright'
import { expect, settled, test, turnTo } from './app'

const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']

/** What is seen is held against each light; what does not depend on colours is the same in both. */
const LOOKS = {
  light: { type: 'tag', values: TAGS },
  dark: { type: 'rule', values: ['color-contrast', 'link-in-text-block'] },
} as const

test('every view can be used by everyone, in light and in dark', async ({ page, app }) => {
  // every view and everything that opens is gone through rule by rule
  test.setTimeout(600_000)
  const check = async (view: string) => {
    for (const [theme, runOnly] of Object.entries(LOOKS) as [
      keyof typeof LOOKS,
      (typeof LOOKS)[keyof typeof LOOKS],
    ][]) {
      await page.emulateMedia({ colorScheme: theme })
      await expect(page.locator('html')).toHaveClass(new RegExp(theme))
      // pages have no frames, which would want a page of their own for what was found
      const axe = new AxeBuilder({ page })
        .setLegacyMode(true)
        .options({ resultTypes: ['violations'], runOnly: { type: runOnly.type, values: [...runOnly.values] } })
      const { violations } = await axe.analyze()
      expect(
        violations.map(
          ({ id, nodes }) =>
            `${view}, ${theme}: ${id} ${nodes
              .map(({ target }) => target.join(' '))
              .slice(0, 3)
              .join(', ')}`,
        ),
      ).toEqual([])
    }
  }
  await page.goto(app.address)
  await check('library')
  const id = await app.idOf('First draft of Hollin Reach')
  const open = async (view: string) => {
    await turnTo(page, view)
    await settled(page)
  }
  await page.goto(`${app.address}/story/${id}/desk`)
  for (const view of ['desk', 'quests', 'ledger', 'rehearse', 'bearings', 'atlas', 'languages', 'export', 'history']) {
    await open(view)
    await check(view)
  }
  const overlay = async (name: string, begin: () => Promise<unknown>) => {
    await begin()
    await expect(page.getByRole('dialog')).toBeVisible()
    await check(name)
    await page.keyboard.press('Escape')
    await expect(page.getByRole('dialog')).toHaveCount(0)
  }
  await overlay('keys', () => page.keyboard.press('Shift+?'))
  await overlay('palette', async () => {
    await page.keyboard.press('Control+k')
    await page.keyboard.type('rope')
  })
  await overlay('find and replace', async () => {
    await page.keyboard.press('Control+Shift+h')
    await page.keyboard.type('the')
  })
  await open('bearings')
  await overlay('set aside', () =>
    page
      .getByRole('button', { name: /^Set aside/ })
      .first()
      .click(),
  )
  await page.getByRole('tab', { name: 'Simulated players' }).click()
  await expect(page.locator('[data-played]')).toBeVisible()
  await check('players')
  await open('quests')
  await expect(page.locator('[data-call-sheet=fresh]')).toBeVisible()
  await check('call sheet')
  await overlay('stage between', () =>
    page
      .getByRole('button', { name: /^A stage between/ })
      .first()
      .click(),
  )
  await open('rehearse')
  await overlay('begin elsewhere', async () => {
    await page.getByRole('button', { name: 'Begin elsewhere' }).click()
    await page.getByLabel('with values set by hand').check()
  })
  await open('ledger')
  await overlay('rename', () =>
    page
      .getByRole('button', { name: /^Rename / })
      .first()
      .click(),
  )
  await overlay('delete', async () => {
    await page.getByRole('button', { name: 'Delete tide' }).click()
    await expect(page.locator('[data-what-if=told]')).toBeVisible()
  })
  // what opens inside of the manuscript
  await open('desk')
  await page.locator('[data-field$="?when"]').first().click()
  await expect(page.getByRole('group', { name: 'Gate' })).toBeVisible()
  await check('gate')
  await page.keyboard.press('Escape')
  await page.locator('section.beat textarea').nth(1).focus()
  await page.keyboard.type('{')
  await expect(page.getByRole('listbox', { name: 'What can be put in' })).toBeVisible()
  await check('insertion')
  await page.keyboard.press('Escape')
  // the sample stays as it was for the other tests
  await page.keyboard.press('Backspace')
  await settled(page)
  await page.evaluate(() => localStorage.removeItem('paper-compass.tour'))
  const sample = await app.idOf('The Causeway at Hollin Reach')
  await page.goto(`${app.address}/story/${sample}/desk?tour`)
  await expect(page.getByRole('complementary', { name: 'Tour' })).toBeVisible()
  await check('tour')
})
