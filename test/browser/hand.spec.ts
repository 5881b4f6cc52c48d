import type { PlainLine, Story } from '../../src/core/story/types'
import type { Page } from '@playwright/test'
import { addTo, type App, expect, field, openStory, settled, test } from './app'

/** A small story in which everything has a row of its own. */
const jetty = (): Story => ({
  paperCompass: 1,
  title: 'The jetty',
  language: 'en',
  start: 'bank.morning',
  cast: [
    { id: 'odile', name: 'Odile Marsh' },
    { id: 'odo', name: 'Odo Finch' },
    { id: 'jory', name: 'Jory Pell' },
  ],
  ledger: [
    { id: 'rope', kind: 'item', max: 3 },
    { id: 'paid', kind: 'flag' },
  ],
  endings: [{ id: 'over', name: 'Over the water' }],
  scenes: [
    {
      id: 'bank',
      title: 'The bank',
      beats: [
        {
          id: 'morning',
          lines: [{ text: 'A rope lies there.' }, { text: 'The ferry waits.' }],
          choices: [
            { id: 'cross', text: 'Cross over', when: 'rope >= 1', to: 'far.shore' },
            { id: 'ask', text: 'Ask for passage', to: 'bank.noon' },
          ],
        },
        { id: 'noon', title: 'Noon on the bank', lines: [{ text: 'It is noon.' }], onward: [{ to: 'bank.morning' }] },
      ],
    },
    { id: 'far', title: 'The far side', beats: [{ id: 'shore', lines: [{ text: 'The rope held.' }], ending: 'over' }] },
  ],
})

const stored = (app: App, id: string) => app.get<{ story: Story }>(`/api/stories/${id}`).then(({ story }) => story)
const morning = async (app: App, id: string) => (await stored(app, id)).scenes[0]!.beats[0]!
const texts = async (app: App, id: string) => (await morning(app, id)).lines!.map((line) => (line as PlainLine).text)
const focused = (page: Page) =>
  page.evaluate(() => document.activeElement?.getAttribute('data-field') ?? document.activeElement?.tagName)
const caret = (page: Page) => page.evaluate(() => (document.activeElement as HTMLTextAreaElement).selectionStart)
const desk = async (page: Page, app: App, id: string) => {
  await page.goto(`${app.address}/story/${id}/desk`)
  await settled(page)
}

test('what is typed is kept on every way out', async ({ page, app }) => {
  const id = await openStory(page, app, jetty())
  const gate = async (text: string) => {
    await page.locator(field('bank.morning.cross?when')).click()
    await page.locator(field('bank.morning.cross?when:edit')).fill(text)
  }
  const ways: Record<string, () => Promise<unknown>> = {
    'another view': () => page.keyboard.press('Alt+5'),
    'a click elsewhere': () => page.locator(field('bank.noon#line1')).click(),
    'the palette': () => page.keyboard.press('Control+k'),
    'a click on a link': () => page.getByRole('link', { name: 'Ledger' }).click(),
    'the tab key': async () => {
      for (let press = 0; press < 8; press += 1) await page.keyboard.press('Tab')
    },
    'another page': () => page.goto(`${app.address}/`),
  }
  let number = 0
  for (const [way, leave] of Object.entries(ways)) {
    await desk(page, app, id)
    number = number === 3 ? 1 : number + 1
    await gate(`rope >= ${number} && !paid`)
    await leave()
    await expect.poll(async () => (await morning(app, id)).choices![0]!.when, way).toBe(`rope >= ${number} && !paid`)
  }
  // an effect, by the browser's Back
  await desk(page, app, id)
  await page.keyboard.press('Alt+2')
  await page.waitForURL('**/quests*')
  await page.keyboard.press('Alt+1')
  await page.waitForURL('**/desk*')
  await addTo(page, 'bank.morning.ask', 'do')
  await expect(page.locator(field('bank.morning.ask?do1:edit'))).toBeFocused()
  await page.keyboard.type('paid = true')
  await page.goBack()
  await page.waitForURL('**/quests*')
  await expect.poll(async () => (await morning(app, id)).choices![1]!.do).toEqual(['paid = true'])
  // a destination, and a name, by a click elsewhere
  await desk(page, app, id)
  await page.locator(field('bank.morning.ask>to')).click()
  await page.locator(field('bank.morning.ask>to:edit')).fill('shore')
  await page.locator(field('bank.noon#line1')).click()
  await expect.poll(async () => (await morning(app, id)).choices![1]!.to).toBe('far.shore')
  await page.locator(field('bank.noon:name')).fill('High noon')
  await page.keyboard.press('Alt+3')
  await expect.poll(async () => (await stored(app, id)).scenes[0]!.beats[1]!.title).toBe('High noon')
})

test('Escape closes the list, then gives back what stood there, and that can be undone', async ({ page, app }) => {
  const id = await openStory(page, app, jetty())
  await page.locator(field('bank.morning.cross?when')).click()
  const edit = page.locator(field('bank.morning.cross?when:edit'))
  await edit.fill('')
  await page.keyboard.type('ro')
  const offers = page.locator('[role=option]', { hasText: 'rope' })
  await expect(offers.first()).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(offers).toHaveCount(0)
  await expect(edit).toBeFocused()
  await edit.fill('rope >= 3')
  await page.keyboard.press('Escape')
  await expect(edit).toHaveCount(0)
  await expect(page.locator(field('bank.morning.cross?when'))).toContainText('rope is at least 1')
  await settled(page)
  expect((await morning(app, id)).choices![0]!.when).toBe('rope >= 1')
  await page.keyboard.press('Control+z')
  await expect(page.locator(field('bank.morning.cross?when'))).toContainText('rope is at least 3')
  // Ctrl+Y makes it again
  await page.keyboard.press('Control+y')
  await expect(page.locator(field('bank.morning.cross?when'))).toContainText('rope is at least 1')
})

test('a press while an editor is open does both, and a picker is seen whole', async ({ page, app }) => {
  await page.setViewportSize({ width: 1280, height: 800 })
  const id = await openStory(page, app, jetty())
  const tools = page.getByRole('group', { name: 'Add to morning' })
  await page.locator(field('bank.morning.cross?when')).click()
  await page.locator(field('bank.morning.cross?when:edit')).fill('rope >= 2')
  await tools.getByRole('button', { name: '+ line' }).click()
  await expect(page.locator(field('bank.morning#line3'))).toBeFocused()
  await settled(page)
  expect((await morning(app, id)).choices![0]!.when).toBe('rope >= 2')
  // another row's gate
  await page.locator(field('bank.morning.cross?when')).click()
  await page.locator(field('bank.morning.cross?when:edit')).fill('rope >= 3')
  await page.locator(field('bank.morning#line1')).hover()
  await page.locator(field('bank.morning#line1+when')).click()
  await expect(page.locator(field('bank.morning#line1?when:edit'))).toBeVisible()
  await settled(page)
  expect((await morning(app, id)).choices![0]!.when).toBe('rope >= 3')
  await page.keyboard.press('Escape')
  // the last row of the window
  const long = jetty()
  long.scenes[0]!.beats[0]!.lines = Array.from({ length: 24 }, (_, at) => ({ text: `Line ${at + 1}.`, when: 'paid' }))
  await openStory(page, app, long)
  const notes = page.locator('.margin [data-field$="?when"]')
  const last = await notes.evaluateAll((all) =>
    all.findLastIndex((one) => one.getBoundingClientRect().bottom < window.innerHeight - 40),
  )
  await notes.nth(last).click()
  const box = (await page.getByRole('group', { name: 'Gate' }).boundingBox())!
  const bar = (await page.getByRole('contentinfo', { name: 'The needle' }).boundingBox())!
  expect(box.y + box.height).toBeLessThanOrEqual(bar.y)
  await expect(page.getByRole('button', { name: 'Done' })).toBeInViewport({ ratio: 1 })
})

test('the cursor stands where one works: after a pick, an arrow, a finding, the palette, undo', async ({
  page,
  app,
}) => {
  const story = jetty()
  story.ledger![0] = { id: 'rope', kind: 'item', max: 3, initial: 1 }
  story.scenes[1]!.beats[0]!.lines!.push({ text: 'Never.', when: 'rope >= 1 && rope == 0' })
  const id = await openStory(page, app, story)
  // a pick, ended by Enter in one of its fields, by Done
  await addTo(page, 'bank.morning.ask', 'when')
  await page.getByLabel('What it depends on').selectOption('entry:rope')
  await page.getByRole('spinbutton', { name: 'Value' }).press('Enter')
  await expect(page.locator(field('bank.morning.ask'))).toBeFocused()
  await page.locator(field('bank.morning.ask?when')).click()
  await page.getByRole('button', { name: 'Done' }).click()
  await expect(page.locator(field('bank.morning.ask'))).toBeFocused()
  await settled(page)
  expect((await morning(app, id)).choices![1]!.when).toBe('rope >= 1')
  // through an arrow
  await page.getByRole('button', { name: 'Go to bank.noon' }).first().click()
  await expect(page.locator(field('bank.noon#line1'))).toBeFocused()
  // a finding, at its very row
  await settled(page)
  for (let press = 0; press < 12; press += 1) {
    await page.keyboard.press('F8')
    await page.waitForTimeout(500)
    if ((await focused(page)) === 'far.shore#line2') break
  }
  await expect(page.locator(field('far.shore#line2'))).toBeFocused()
  await expect(page.locator('.row[data-meant]')).toHaveCount(1)
  await expect(page.locator('[data-mark=unreached]')).toContainText('never plays')
  // the words of a line, through the palette
  await page.keyboard.press('Control+k')
  await page.keyboard.type('ferry waits')
  await expect(page.locator('[role=option]', { hasText: 'The ferry waits' })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page.locator(field('bank.morning#line2'))).toBeFocused()
  // undo goes to what it gave back; put in at once, as a pause between two keys parts the steps
  await page.keyboard.insertText(' Still.')
  await settled(page)
  await page.locator(field('bank.noon#line1')).focus()
  await page.keyboard.press('Control+z')
  await expect(page.locator(field('bank.morning#line2'))).toBeFocused()
  await expect(page.locator(field('bank.morning#line2'))).toHaveValue('The ferry waits.')
})

test('a new story begins with the cursor in its first line', async ({ page, app }) => {
  await page.goto(app.address)
  await page.getByLabel('Title of a new story').fill('A lantern')
  await page.keyboard.press('Enter')
  await expect(page.locator(field('opening.first#line1'))).toBeFocused()
  await page.keyboard.type('Dark.')
  await settled(page)
})

test('forty lines of conversation cost one key a line, and one for each change of speaker', async ({ page, app }) => {
  const id = await openStory(page, app, {
    paperCompass: 1,
    title: 'Talk',
    language: 'en',
    start: 'a.b',
    endings: [],
    cast: [
      { id: 'odile', name: 'Odile' },
      { id: 'jory', name: 'Jory' },
    ],
    scenes: [{ id: 'a', title: 'A', beats: [{ id: 'b', lines: [{ text: 'Go on.', speaker: 'odile' }] }] }],
  } satisfies Story)
  await page.locator(field('a.b#line1')).focus()
  await page.keyboard.press('End')
  let keys = 0
  let changes = 0
  let before = 'odile'
  const press = async (key: string) => {
    keys += 1
    await page.keyboard.press(key)
  }
  const said: { speaker: string; text: string }[] = [{ speaker: 'odile', text: 'Go on.' }]
  for (let at = 1; at < 40; at += 1) {
    // two each now and then
    const speaker = at % 7 === 3 ? before : before === 'odile' ? 'jory' : 'odile'
    await press('Enter')
    await expect(page.locator(field(`a.b#line${at + 1}`))).toBeFocused()
    if (speaker !== before) {
      changes += 1
      await press('Enter')
      await expect(page.getByRole('button', { name: `${speaker === 'odile' ? 'Odile' : 'Jory'} speaks` })).toHaveCount(
        said.filter((line) => line.speaker === speaker).length + 1,
      )
    }
    const text = `Line ${at}.`
    await page.keyboard.type(text)
    said.push({ speaker, text })
    before = speaker
  }
  await settled(page)
  const { lines } = (await stored(app, id)).scenes[0]!.beats[0]!
  expect((lines as PlainLine[]).map(({ speaker, text }) => ({ speaker, text }))).toEqual(said)
  expect(keys).toBeLessThanOrEqual(40 + changes)
})

test('script keys: arrows through all texts, a line parted and joined, choices from anywhere, one Tab to the text', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, jetty())
  await page.locator(field('bank.morning#line1')).focus()
  await page.keyboard.press('Control+End')
  for (const next of ['bank.morning#line2', 'bank.morning.cross', 'bank.morning.ask', 'bank.noon#line1']) {
    await page.keyboard.press('End')
    await page.keyboard.press('ArrowDown')
    await expect(page.locator(field(next))).toBeFocused()
  }
  await page.keyboard.press('Home')
  await page.keyboard.press('ArrowUp')
  await expect(page.locator(field('bank.morning.ask'))).toBeFocused()
  // parted in the middle, joined again
  const line = page.locator(field('bank.morning#line2'))
  await line.focus()
  await page.keyboard.press('Home')
  for (let press = 0; press < 9; press += 1) await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Enter')
  await expect(page.locator(field('bank.morning#line3'))).toBeFocused()
  expect(await caret(page)).toBe(0)
  await settled(page)
  expect(await texts(app, id)).toEqual(['A rope lies there.', 'The ferry', 'waits.'])
  await page.keyboard.press('Backspace')
  await expect(line).toBeFocused()
  await settled(page)
  expect(await texts(app, id)).toEqual(['A rope lies there.', 'The ferry waits.'])
  expect(await caret(page)).toBe('The ferry '.length)
  // the margin of a row by one key; a choice from a destination
  await page.keyboard.press('Alt+.')
  await expect(page.locator('[data-item=when]')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(line).toBeFocused()
  await page.locator(field('bank.morning.ask>to')).focus()
  await page.keyboard.press('Control+Enter')
  await expect(page.locator(field('bank.morning.choice'))).toBeFocused()
  // a reader goes past the bar
  await desk(page, app, id)
  await page.keyboard.press('Tab')
  await expect(page.getByRole('link', { name: 'To the text' })).toBeFocused()
  await page.keyboard.press('Enter')
  await page.keyboard.press('Tab')
  await expect(page.locator(field('bank.morning#line1'))).toBeFocused()
  // and from line to line there is nothing of the margin in between
  await page.keyboard.press('Tab')
  await expect(page.locator(field('bank.morning#line2'))).toBeFocused()
})

test('speakers are understood as they are typed', async ({ page, app }) => {
  const story = jetty()
  story.scenes[0]!.beats[1]!.lines!.push({ text: 'Tamsin: Twice.' })
  const id = await openStory(page, app, story)
  const line = page.locator(field('bank.morning#line2'))
  await line.focus()
  await line.fill('')
  await page.keyboard.type('Jory: I wait.')
  await settled(page)
  expect((await morning(app, id)).lines![1]).toMatchObject({ speaker: 'jory', text: 'I wait.' })
  // in a line of somebody else
  await line.fill('')
  await page.keyboard.type('Odile Marsh: So do I.')
  await settled(page)
  expect((await morning(app, id)).lines![1]).toMatchObject({ speaker: 'odile', text: 'So do I.' })
  // two begin so
  await page.locator(field('bank.morning#line1')).fill('Od: Who?')
  await expect(page.getByRole('button', { name: 'Odile Marsh speaks' }).first()).toBeVisible()
  await page.getByRole('button', { name: 'Odo Finch speaks' }).click()
  await settled(page)
  expect((await morning(app, id)).lines![0]).toMatchObject({ speaker: 'odo', text: 'Who?' })
  // somebody new speaks all lines that begin so
  await page.locator(field('bank.noon#line1')).fill('Tamsin: Ring it.')
  await page.getByRole('button', { name: 'Make Tamsin a speaker' }).first().click()
  await settled(page)
  expect((await stored(app, id)).scenes[0]!.beats[1]!.lines).toMatchObject([
    { speaker: 'tamsin', text: 'Ring it.' },
    { speaker: 'tamsin', text: 'Twice.' },
  ])
})

/** As the browser does it: what a clipboard holds goes to the field that has the focus. */
async function paste(page: Page, held: Record<string, string>): Promise<void> {
  await page.evaluate((kinds) => {
    const clipboardData = new DataTransfer()
    for (const [kind, text] of Object.entries(kinds)) clipboardData.setData(kind, text)
    document.activeElement!.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }),
    )
  }, held)
}

test('a pasted script is shown as it is understood, goes in as one edit, and comes from a word processor too', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, jetty())
  const line = page.locator(field('bank.morning#line2'))
  await line.focus()
  await paste(page, {
    'text/plain':
      'ODILE MARSH\nMind the boards.\n\nTamsin: I do.\n\n(She does not.)\n\n- Help her\n- Walk on\n\n# The boat house\n\nDark.',
  })
  const preview = page.getByRole('dialog')
  await expect(preview).toContainText('4 lines · 2 choices · 1 new beat · 1 new speaker: Tamsin')
  await page.keyboard.press('Enter')
  await expect(page.locator(field('bank.the_boat_house#line1'))).toBeFocused()
  await settled(page)
  const now = await stored(app, id)
  expect(now.cast!.at(-1)).toEqual({ id: 'tamsin', name: 'Tamsin' })
  expect(now.scenes[0]!.beats[0]!.lines).toMatchObject([
    { text: 'A rope lies there.' },
    { text: 'The ferry waits.' },
    { speaker: 'odile', text: 'Mind the boards.' },
    { speaker: 'tamsin', text: 'I do.' },
    { manner: 'action', text: 'She does not.' },
  ])
  expect(now.scenes[0]!.beats[0]!.choices!.map(({ text }) => text)).toEqual([
    'Cross over',
    'Ask for passage',
    'Help her',
    'Walk on',
  ])
  expect(now.scenes[0]!.beats[1]).toMatchObject({ title: 'The boat house', lines: [{ text: 'Dark.' }] })
  await page.keyboard.press('Control+z')
  await settled(page)
  expect((await stored(app, id)).scenes).toEqual(jetty().scenes)
  // from a word processor
  await line.focus()
  await page.keyboard.press('End')
  await paste(page, {
    'text/plain': 'flat',
    'text/html':
      '<h2>Evening</h2><p>Jory: <b>Late.</b></p><ul><li>Go</li><li><p>Stay</p></li></ul><script>document.title = 1</script>',
  })
  await expect(preview).toContainText('1 line · 2 choices · 1 new beat')
  await page.getByRole('button', { name: 'Leave it' }).click()
  await settled(page)
  expect(await texts(app, id)).toEqual(['A rope lies there.', 'The ferry waits.'])
  // inside a variant nothing but lines can stand
  await line.focus()
  await page.keyboard.press('Control+Alt+Enter')
  await page.keyboard.type('First.')
  await paste(page, { 'text/plain': 'Odile: One.\nPetra: Two.\n- Three' })
  await expect(preview).toContainText('1 new speaker: Petra')
  await page.keyboard.press('Enter')
  await settled(page)
  const variant = (await stored(app, id)).scenes[0]!.beats[0]!.lines![1] as { firstOf: { lines: object[] }[] }
  expect(variant.firstOf.map(({ lines }) => lines.length)).toContain(4)
  expect(variant.firstOf.flatMap(({ lines }) => lines)).toMatchObject(
    expect.arrayContaining([
      expect.objectContaining({ speaker: 'odile', text: 'One.' }),
      expect.objectContaining({ speaker: 'petra', text: 'Two.' }),
      expect.objectContaining({ text: 'Three' }),
    ]),
  )
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await settled(page)
  expect((await stored(app, id)).scenes).toEqual(jetty().scenes)
  await line.focus()
  // and a text of one row is a text
  await paste(page, { 'text/plain': 'Only this.' })
  await expect(preview).toHaveCount(0)
})

test('a destination opened again lists all beats, nearest first; roads are put in order by key and by dragging', async ({
  page,
  app,
}) => {
  const story = jetty()
  story.scenes[0]!.beats[1]!.onward = [
    { to: 'far.shore', when: 'rope >= 2' },
    { to: 'bank.noon', when: 'rope >= 1' },
    { to: 'bank.morning' },
  ]
  const id = await openStory(page, app, story)
  await page.locator(field('bank.morning.ask>to')).click()
  const edit = page.locator(field('bank.morning.ask>to:edit'))
  await expect(edit).toBeFocused()
  expect(
    await edit.evaluate((input: HTMLInputElement) => input.value.slice(input.selectionStart!, input.selectionEnd!)),
  ).toBe(await edit.inputValue())
  const offers = page.locator('[role=option]')
  await expect(offers.filter({ hasText: 'Noon on the bank' })).toHaveCount(1)
  await expect(offers.filter({ hasText: 'shore' })).toHaveCount(1)
  // a scene by its title
  await page.keyboard.type('far side')
  await page.keyboard.press('Enter')
  await settled(page)
  expect((await morning(app, id)).choices![1]!.to).toBe('far.shore')
  const order = async () => (await stored(app, id)).scenes[0]!.beats[1]!.onward!.map(({ to }) => to)
  await page.locator(field('bank.noon#onward1>to')).focus()
  await page.keyboard.press('Alt+ArrowDown')
  await expect(page.locator(field('bank.noon#onward2>to'))).toBeFocused()
  await settled(page)
  expect(await order()).toEqual(['bank.noon', 'far.shore', 'bank.morning'])
  await page
    .locator('.row', { has: page.locator(field('bank.noon#onward2>to')) })
    .locator('.grip')
    .dragTo(page.locator(field('bank.noon#onward1>to')))
  await settled(page)
  expect(await order()).toEqual(['far.shore', 'bank.noon', 'bank.morning'])
  // a new one comes before the one that always holds
  await page.getByRole('group', { name: 'Add to Noon on the bank' }).getByRole('button', { name: '+ goes on' }).click()
  await page.keyboard.type('morning')
  await page.keyboard.press('Enter')
  await settled(page)
  expect(await order()).toEqual(['far.shore', 'bank.noon', 'bank.morning', 'bank.morning'])
  expect((await stored(app, id)).scenes[0]!.beats[1]!.onward!.map(({ when }) => when)).toEqual([
    'rope >= 2',
    'rope >= 1',
    undefined,
    undefined,
  ])
})

test('gates understand yes and no, offer the near name, find any beat by its title, and say what is out of range', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, jetty())
  await addTo(page, 'bank.morning.ask', 'when')
  const edit = page.locator(field('bank.morning.ask?when:edit'))
  await edit.fill('paid == yes && rop >= 1')
  await page.locator('[data-near=rope]').click()
  await edit.press('Enter')
  await settled(page)
  expect((await morning(app, id)).choices![1]!.when).toBe('paid == true && rope >= 1')
  await page.locator(field('bank.morning.ask?when')).click()
  await page.getByRole('spinbutton', { name: 'Value' }).fill('9')
  await expect(page.getByRole('group', { name: 'Gate' }).getByRole('alert')).toHaveText('rope is 0 to 3')
  await edit.fill('')
  await page.getByLabel('What it depends on').selectOption('…')
  await page.keyboard.type('shore')
  await page.keyboard.press('Enter')
  await expect(edit).toHaveText("visits('far.shore') >= 1")
  await edit.press('Enter')
  await settled(page)
  expect((await morning(app, id)).choices![1]!.when).toBe("visits('far.shore') >= 1")
})

test('the address names what is on the screen, and a reload keeps it, the rehearsal too', async ({ page, app }) => {
  const story = jetty()
  story.quests = ['Wool', 'Salt'].map((name) => ({
    id: name.toLowerCase(),
    name,
    stages: [{ id: 'done', name: 'Done', outcome: 'success' as const }],
  }))
  await openStory(page, app, story)
  await page.getByRole('link', { name: 'Quests' }).click()
  await page.getByRole('navigation', { name: 'Quests' }).getByRole('button', { name: /Salt/ }).click()
  await expect(page).toHaveURL(/quest=salt/)
  await page.reload()
  await settled(page)
  await expect(page.getByLabel('Name of the quest')).toHaveValue('Salt')
  await page.getByRole('link', { name: 'Bearings' }).click()
  await page.getByRole('tab', { name: 'Simulated players' }).click()
  await page.reload()
  await settled(page)
  await expect(page.getByRole('tab', { name: 'Simulated players' })).toHaveAttribute('aria-selected', 'true')
  await page.getByRole('link', { name: 'Rehearse' }).click()
  await page.getByRole('button', { name: /Ask for passage/ }).click()
  const played = page.getByRole('log', { name: 'What is played' })
  await expect(played).toContainText('It is noon.')
  await page.reload()
  await settled(page)
  await expect(played).toContainText('It is noon.')
  // help is found by the eye
  await page.getByRole('button', { name: 'Keys' }).click()
  await expect(page.getByRole('dialog')).toContainText('Alt+.')
})

test('a file with another version of a story replaces it as a new version, or stands beside it', async ({
  page,
  app,
}) => {
  const title = 'The jetty, twice'
  const id = await openStory(page, app, { ...jetty(), title })
  const next = { ...jetty(), title }
  next.scenes[0]!.beats[0]!.lines![1] = { text: 'The ferry has left.' }
  const file = { name: 'jetty.story.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(next)) }
  const question = page.getByRole('alertdialog', { name: 'The story exists' })
  const before = await app.count()
  await page.goto(app.address)
  await page.getByLabel('Story file').setInputFiles(file)
  await expect(question).toContainText(title)
  await page.getByRole('button', { name: 'Replace it as a new version' }).click()
  await page.waitForURL(new RegExp(`/story/${id}/desk`))
  await settled(page)
  expect(await texts(app, id)).toEqual(['A rope lies there.', 'The ferry has left.'])
  await page.getByRole('link', { name: 'History' }).click()
  await expect(page.locator('[data-version="Before “jetty.story.json”"]')).toBeVisible()
  expect(await app.count()).toBe(before)
  await page.goto(app.address)
  await page.getByLabel('Story file').setInputFiles(file)
  await page.getByRole('button', { name: 'Keep both' }).click()
  await page.waitForURL(/\/desk/)
  expect(await app.count()).toBe(before + 1)
})

test('the address names the beat that one is at, and a reload comes back to it', async ({ page, app }) => {
  const id = await openStory(page, app, jetty())
  await settled(page)
  const beats = (await stored(app, id)).scenes.flatMap((scene) => scene.beats.map((beat) => `${scene.id}.${beat.id}`))
  const last = beats.at(-1)!
  await page.keyboard.press('Control+k')
  await page.keyboard.type(last.split('.')[1]!.replaceAll('_', ' '))
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(new RegExp(`#${last.replace('.', '\\.')}$`))
  // and back to where one was
  await page.keyboard.press('Alt+ArrowLeft')
  await expect(page).toHaveURL(new RegExp(`#${beats[0]!.replace('.', '\\.')}$`))
  await page.reload()
  await settled(page)
  await expect(page.getByRole('complementary', { name: 'Bearing of this beat' })).toContainText(
    beats[0]!.split('.')[1]!.replaceAll('_', ' '),
    { ignoreCase: true },
  )
})

test('a number in the ledger is kept when the view is left by a key in the middle of it', async ({ page, app }) => {
  const id = await openStory(page, app, {
    ...jetty(),
    ledger: [...(jetty().ledger ?? []), { id: 'hours', kind: 'counter', min: 0, max: 9 }],
  })
  await page.goto(`${app.address}/story/${id}/ledger`)
  await settled(page)
  const most = page.getByLabel('Largest value of hours')
  await most.fill('12')
  await page.keyboard.press('Alt+1')
  await expect(page).toHaveURL(/desk/)
  await expect
    .poll(async () => (await stored(app, id)).ledger!.find((entry) => entry.id === 'hours'))
    .toMatchObject({ max: 12 })
})
