import { readFile } from 'node:fs/promises'
import type { Page } from '@playwright/test'
import { COLUMN, ROW } from '../../src/core/atlas/picture'
import { type App, expect, openStory, settled, test } from './app'

/** A ferry with one road that no route takes, a beat behind it, and one that nothing leads to. */
const ferry = (title: string) => ({
  paperCompass: 1,
  title,
  language: 'en',
  start: 'bank.here',
  ledger: [{ id: 'paid', kind: 'flag' }],
  cast: [{ id: 'jory', name: 'Jory' }],
  endings: [
    { id: 'over', name: 'Over the water' },
    { id: 'wet', name: 'Wet' },
  ],
  routes: [{ id: 'quick', name: 'Straight over', decisions: [{ choice: 'bank.here.go' }] }],
  scenes: [
    {
      id: 'bank',
      title: 'The bank',
      beats: [
        {
          id: 'here',
          title: 'At the rope',
          lines: [{ text: 'The ferry waits.' }],
          choices: [
            { id: 'pay', text: 'Pay the ferryman', who: 'jory', once: true, do: ['paid = true'], to: 'bank.here' },
            { id: 'go', text: 'Step aboard', to: 'water.middle' },
            { id: 'fly', text: 'Fly over', when: 'paid && !paid', to: 'bank.sky' },
          ],
        },
        { id: 'sky', title: 'In the sky', lines: [{ text: 'Nobody sees this.' }] },
        { id: 'loft', title: 'The loft', notes: 'todo: lead here' },
      ],
    },
    {
      id: 'water',
      title: 'The water',
      beats: [
        {
          id: 'middle',
          title: 'Midstream',
          lines: [{ speaker: 'jory', text: 'Hold on.' }],
          choices: [
            { id: 'land', text: 'Land', when: 'paid', to: 'water.far' },
            { id: 'jump', text: 'Jump', to: 'water.wet' },
          ],
        },
        { id: 'far', title: 'The far side', ending: 'over' },
        { id: 'wet', title: 'In the water', ending: 'wet' },
      ],
    },
  ],
})

const canvas = (page: Page) => page.getByRole('application', { name: /^Chart of/ })
const said = (page: Page) => page.locator('[data-said]')

async function open(page: Page, app: App, title: string, search = ''): Promise<string> {
  const id = await openStory(page, app, ferry(title))
  await page.goto(`${app.address}/story/${id}/atlas${search}`)
  await settled(page)
  await expect(canvas(page)).toBeVisible()
  return id
}

test('keys follow the roads, and lead to the text and back', async ({ page, app }) => {
  const id = await open(page, app, 'Ferry by keys')
  await canvas(page).focus()
  await expect(said(page)).toContainText('At the rope, after 0, 3 roads')
  await page.keyboard.press('ArrowDown')
  await expect(said(page)).toContainText('Road 1 of 3. Encounter: “Pay the ferryman”, changes paid: yes')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowRight')
  await expect(said(page)).toContainText('Midstream, after 1, 2 roads')
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowUp')
  await expect(said(page)).toContainText('“Land”, opens when paid, to “The far side”, after 3')
  await page.keyboard.press('ArrowRight')
  await expect(said(page)).toContainText('The far side, after 3')
  await page.keyboard.press('ArrowLeft')
  await expect(said(page)).toContainText('Midstream')
  await expect(page).toHaveURL(/atlas\?.*#water\.middle$/)
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(new RegExp(`${id}/desk#water.middle$`))
  await expect(page.locator('[data-field="water.middle#line1"]')).toBeFocused()
  // and back on the chart, at the beat, from near
  await page.getByRole('link', { name: 'on the Atlas' }).click()
  await expect(page).toHaveURL(/atlas.*at=[^&]*_0\.95.*#water\.middle$/)
  await page.keyboard.press('Alt+1')
  await page.keyboard.press('Alt+6')
  await expect(said(page)).toContainText('Midstream')
  await page.getByRole('button', { name: 'Rehearse from here' }).click()
  await expect(page).toHaveURL(/rehearse/)
  await expect(page.getByText('Hold on.')).toBeVisible()
})

test('a road that no route takes says why not; what is on no route stands together by what keeps the player out', async ({
  page,
  app,
}) => {
  await open(page, app, 'Ferry with reasons')
  const roads = page.locator('[data-road="bank.here.fly"]')
  await expect(roads).toContainText('no route takes it')
  await roads.getByRole('button', { name: 'why not?' }).click()
  await expect(page.locator('[data-why="bank.here.fly"]')).toContainText('never holds')
  await page.getByRole('button', { name: 'As a list' }).click()
  const tree = page.getByRole('tree')
  await expect(tree.getByRole('treeitem', { name: /^not reached In the sky/ })).toContainText('on no route')
  await expect(tree.getByRole('treeitem', { name: /^reached At the rope/ })).toContainText('the start')
})

test('what the chart shows is said in a sentence, stands in the address and is kept by name', async ({ page, app }) => {
  await open(page, app, 'Ferry in layers')
  const says = page.locator('[data-says]')
  const show = page.getByLabel('Show', { exact: true })
  await show.selectOption('entry')
  await expect(says).toContainText('“paid” is read at 2 beats and changed at 1.')
  await show.selectOption('ending')
  await expect(says).toContainText(
    '“Over the water” can be reached in every case from 2 beats, in some cases from 1, from 1 no more. It is lost at 2 decisions.',
  )
  await page.getByLabel('Of what').selectOption('wet')
  await expect(says).toContainText('“Wet”')
  await show.selectOption('todos')
  await expect(says).toContainText('1 to-do at 1 beat.')
  await show.selectOption('person')
  await expect(says).toContainText('Jory says 1 line at 1 beat.')
  await show.selectOption('players')
  await expect(says).toContainText('Of 1,000 playthroughs some come by 4 of 6 beats')
  await expect(page).toHaveURL(/show=players/)
  await page.getByRole('button', { name: 'Views of the chart that were kept' }).click()
  await page.getByRole('menuitem', { name: 'Keep this view …' }).click()
  await page.getByLabel('Name of this view').fill('Where players go')
  await page.keyboard.press('Enter')
  await show.selectOption('none')
  await expect(says).toHaveCount(0)
  await page.reload()
  await settled(page)
  await page.getByRole('button', { name: 'Views of the chart that were kept' }).click()
  await page.getByRole('menuitem', { name: 'Where players go', exact: true }).click()
  await expect(says).toContainText('playthroughs')
  await page.getByLabel('Search on the chart').fill('hold on')
  await expect(page.getByText('1 beat; Enter goes on')).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(said(page)).toContainText('Midstream')
})

test('a press picks a beat, another opens its text; a press on a band closes it', async ({ page, app }) => {
  // at its natural scale, from its corner on
  await open(page, app, 'Ferry by mouse', '?at=0_0_1')
  const box = (await canvas(page).boundingBox())!
  const tip = page.locator('[data-tip]')
  const to = async (x: number, y: number) => {
    await page.mouse.move(box.x + x - 1, box.y + y)
    await page.mouse.move(box.x + x, box.y + y)
  }
  const press = () => page.mouse.down().then(() => page.mouse.up())
  await to(1.5 * COLUMN, 66 + 190 + 48 + ROW / 2)
  await expect(tip).toContainText('Midstream')
  await expect(tip).toContainText('after 1')
  await press()
  await expect(said(page)).toContainText('Midstream')
  await press()
  await expect(page).toHaveURL(/desk#water\.middle$/)
  await page.goBack()
  await settled(page)
  await to(200, 66 + 10)
  await expect(tip).toContainText('The bank: press to close it')
  await press()
  await expect(page).toHaveURL(/turned=bank/)
  // along the strip above: how much there is at each distance
  await to(1.5 * COLUMN, 30)
  await expect(tip).toContainText('After 1 decision: 1 beat, 4 words, 2 endings still possible')
})

test('the chart is taken along as a picture and as a graph', async ({ page, app }) => {
  await open(page, app, 'Ferry <to> "go"')
  const save = async (name: string) => {
    await page.getByRole('button', { name: 'Take the chart along' }).click()
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: new RegExp(`^${name}`) }).click(),
    ])
    return { name: download.suggestedFilename(), bytes: await readFile(await download.path()) }
  }
  const svg = await save('SVG')
  const read = await page.evaluate((text) => {
    const picture = new DOMParser().parseFromString(text, 'image/svg+xml')
    return {
      error: picture.querySelector('parsererror')?.textContent,
      title: picture.querySelector('title')?.textContent,
      texts: [...picture.querySelectorAll('text')].map((one) => one.textContent),
    }
  }, svg.bytes.toString('utf8'))
  expect(read.error).toBeUndefined()
  expect(read.title).toBe('Ferry <to> "go"')
  for (const words of ['Midstream', 'The loft', '– The water', 'nothing leads here', 'Step aboard'])
    expect(read.texts).toContain(words)
  const png = await save('PNG')
  expect([...png.bytes.subarray(1, 4)]).toEqual([...Buffer.from('PNG')])
  expect((await save('GraphML')).bytes.toString('utf8')).toContain('<graphml')
  expect((await save('DOT')).bytes.toString('utf8')).toContain('digraph')
})

test('the chart is printed on one sheet, or on as many as it takes to be read', async ({ page, app }) => {
  const id = await app.idOf('The Causeway at Hollin Reach')
  await page.goto(`${app.address}/story/${id}/atlas`)
  await settled(page)
  await expect(canvas(page)).toBeVisible()
  // what would go to the printer
  await page.evaluate(() => {
    const append = document.body.append.bind(document.body)
    const held = window as unknown as { printed: { sheets: number; texts: string[] }[] }
    held.printed = []
    document.body.append = (...nodes: (Node | string)[]) => {
      append(...nodes)
      for (const node of nodes)
        if (node instanceof HTMLIFrameElement)
          node.contentWindow!.print = () =>
            held.printed.push({
              sheets: node.contentDocument!.querySelectorAll('svg').length,
              texts: [...node.contentDocument!.querySelectorAll('text')].map((one) => one.textContent),
            })
    }
  })
  const print = async (name: string) => {
    await page.getByRole('button', { name: 'Take the chart along' }).click()
    await page.getByRole('menuitem', { name }).click()
  }
  const printed = () =>
    page.evaluate(() => (window as unknown as { printed: { sheets: number; texts: string[] }[] }).printed)
  await print('Print on one sheet')
  await expect.poll(async () => (await printed()).length).toBe(1)
  await print('Print on several sheets')
  await expect.poll(async () => (await printed()).length).toBe(2)
  const [one, several] = await printed()
  expect(one!.sheets).toBe(1)
  expect(several!.sheets).toBeGreaterThan(2)
  for (const { texts } of [one!, several!]) expect(texts).toContain('– The salt quay')
  expect(several!.texts).toContain('Morning on the quay')
})
