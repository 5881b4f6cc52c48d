import AxeBuilder from '@axe-core/playwright'
import { expect, settled, test } from './app'

const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']

for (const theme of ['light', 'dark'] as const) {
  test(`every view can be used by everyone, in ${theme}`, async ({ page, app }) => {
    await page.emulateMedia({ colorScheme: theme })
    const check = async (view: string) => {
      const { violations } = await new AxeBuilder({ page }).withTags(TAGS).analyze()
      expect(violations.map(({ id, nodes }) => `${view}: ${id} ${nodes.map(({ target }) => target.join(' ')).slice(0, 3).join(', ')}`)).toEqual([])
    }
    await page.goto(app.address)
    await expect(page.locator('html')).toHaveClass(new RegExp(theme))
    await check('library')
    const id = await app.idOf('First draft of Hollin Reach')
    for (const view of ['desk', 'ledger', 'rehearse', 'bearings']) {
      await page.goto(`${app.address}/story/${id}/${view}`)
      await settled(page)
      await check(view)
    }
    await page.keyboard.press('Shift+?')
    await expect(page.getByRole('dialog')).toBeVisible()
    await check('keys')
  })
}
