import { readFile } from 'node:fs/promises'
import { expect, field, openStory, settled, test } from './app'

const market = {
  paperCompass: 1,
  title: 'The market',
  language: 'en',
  start: 'square.stalls',
  cast: [{ id: 'ann', name: 'Ann Tully' }],
  ledger: [
    { id: 'coins', kind: 'counter', min: 0, max: 3 },
    { id: 'coin', kind: 'counter', min: 0, max: 3 },
  ],
  quests: [
    {
      id: 'wool',
      name: 'Wool for Ann',
      stages: [
        { id: 'fetched', name: 'Wool fetched' },
        { id: 'sold', name: 'Wool sold', outcome: 'success' },
      ],
      moves: [
        ['unstarted', 'fetched'],
        ['fetched', 'sold'],
      ],
    },
    {
      id: 'salt',
      name: 'Salt for Ann',
      stages: [
        { id: 'fetched', name: 'Salt fetched' },
        { id: 'sold', name: 'Salt sold', outcome: 'success' },
      ],
    },
  ],
  endings: [{ id: 'home', name: 'Home' }],
  scenes: [
    {
      id: 'square',
      title: 'The square',
      beats: [
        {
          id: 'stalls',
          place: true,
          choices: [
            {
              id: 'wool',
              text: 'Take the wool',
              when: "quest.wool == 'unstarted'",
              do: ["quest.wool = 'fetched'"],
              to: 'square.stalls',
            },
            {
              id: 'salt',
              text: 'Take the salt',
              when: "quest.salt == 'unstarted'",
              do: ["quest.salt = 'fetched'"],
              to: 'square.stalls',
            },
            {
              id: 'ann',
              who: 'ann',
              text: 'Talk to Ann',
              when: "quest.wool != 'unstarted' || quest.salt != 'unstarted'",
              to: 'square.ann',
            },
            { id: 'go', text: 'Go home', to: 'square.home' },
          ],
        },
        {
          id: 'ann',
          lines: [
            {
              firstOf: [
                { when: "quest.wool == 'sold'", lines: [{ speaker: 'ann', text: 'It spins well.' }] },
                { lines: [{ speaker: 'ann', text: 'What have you got?' }] },
              ],
            },
          ],
          choices: [
            {
              id: 'sell',
              text: 'Sell her the wool',
              when: "quest.wool == 'fetched'",
              do: ["quest.wool = 'sold'", 'coins += 1'],
              to: 'return',
            },
            {
              id: 'salt',
              text: 'Sell her the salt',
              when: "quest.salt == 'fetched'",
              do: ["quest.salt = 'sold'", 'coin += 1'],
              to: 'return',
            },
            { id: 'bye', text: 'Leave her', to: 'return' },
          ],
        },
        { id: 'home', lines: [{ text: 'Home, with {coins} and {coin}.' }], ending: 'home' },
      ],
    },
  ],
}

interface Stored {
  readonly story: {
    readonly quests: { stages: { id: string }[]; moves?: string[][] }[]
    readonly promises?: unknown[]
    readonly scenes: {
      beats: { id: string; choices?: { id: string; when?: string; do?: string[]; to: unknown }[]; lines?: unknown[] }[]
    }[]
    readonly ledger: unknown[]
  }
}

test('a quest is seen as a track, gets a stage between two others, and a rival', async ({ page, app }) => {
  const id = await openStory(page, app, market)
  const stored = async () => (await app.get<Stored>(`/api/stories/${id}`)).story
  await page.getByRole('link', { name: 'Quests' }).click()
  await expect(page.locator('[data-track-move="fetched sold"]')).toHaveAttribute('data-track-kind', 'made')
  await expect(page.locator('[data-move="fetched sold"]')).toContainText('Sell her the wool')
  await expect(page.locator('[data-stage="wool.fetched"] [data-finish=all]')).toBeVisible()
  await page.getByLabel('Journal at Wool fetched').fill('Ann wants wool.')
  await page.getByLabel('Journal at Wool fetched').press('Tab')

  // a stage between: what made the old move leads to it now, and the old outcome waits for its own move
  await page.getByRole('button', { name: 'A stage between Wool fetched and Wool sold' }).click()
  await page.getByLabel('Name of the new stage').fill('Wool weighed')
  await page.keyboard.press('Enter')
  await settled(page)
  await expect(page.locator('[data-track-move="fetched wool_weighed"]')).toHaveAttribute('data-track-kind', 'made')
  await expect(page.locator('[data-move="wool_weighed sold"]')).toHaveAttribute('data-move-kind', 'unmade')
  await expect(page.locator('[data-move="wool_weighed sold"]')).toContainText('nobody makes this move')
  expect((await stored()).quests[0]).toMatchObject({
    stages: [{ id: 'fetched', journal: 'Ann wants wool.' }, { id: 'wool_weighed' }, { id: 'sold' }],
    moves: [
      ['unstarted', 'fetched'],
      ['fetched', 'wool_weighed'],
      ['wool_weighed', 'sold'],
    ],
  })
  // one click to the text
  await page.getByRole('button', { name: 'Go to it: square.ann.sell' }).click()
  await expect(page.locator(field('square.ann.sell?do1'))).toContainText('Wool weighed')
  await page.keyboard.press('Control+z')
  await settled(page)

  // an effect that makes a move nobody declared
  await page.locator(field('square.ann.bye+do')).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type("quest.wool = 'sold'")
  await page.keyboard.press('Enter')
  await settled(page)
  await page.getByRole('link', { name: 'Quests' }).click()
  await expect(page.locator('[data-move="unstarted sold"]')).toHaveAttribute('data-move-kind', 'undeclared')
  await page.keyboard.press('Control+z')
  await settled(page)

  // rivals in one step
  await page.getByLabel('Rival of Wool for Ann').selectOption('salt')
  await page.getByLabel('What accepting one does to the other').selectOption('fails')
  await page.getByRole('button', { name: 'Make rivals' }).click()
  await settled(page)
  await expect(page.locator('[data-rivals="wool salt"]')).toContainText('helping one fails the other')
  const made = await stored()
  expect(made.scenes[0]!.beats[0]!.choices![0]).toMatchObject({
    when: "quest.wool == 'unstarted' && quest.salt != 'sold'",
    do: ["quest.wool = 'fetched'", "quest.salt = 'declined'"],
  })
  expect(made.promises).toMatchObject([{ kind: 'never', holds: "quest.wool == 'sold' && quest.salt == 'sold'" }])
  await page.getByRole('link', { name: 'Bearings' }).click()
  await expect(page.locator('[data-promise=not_both] [data-promise-verdict]')).toHaveText('kept')
})

test('the call sheet shows what really plays, and is written into', async ({ page, app }) => {
  const id = await openStory(page, app, market)
  await page.getByRole('link', { name: 'Quests' }).click()
  await expect(page.locator('[data-call-sheet=fresh]')).toBeVisible()
  const cell = (stage: string) => page.locator(`[data-cell="ann ${stage}"]`)
  // with no wool yet she is met only by those who have salt
  await expect(cell('unstarted')).toContainText('What have you got?')
  await expect(cell('fetched').locator('[data-moves-on]')).toBeVisible()
  await expect(cell('sold')).toContainText('It spins well.')
  await expect(page.locator('[data-place="square.stalls"]')).toContainText('sometimes at “not started”')
  await page.getByRole('button', { name: 'Go to it: square.ann#line1.variant1.line1' }).click()
  await page.waitForURL(/desk#square\.ann/)
  await page.getByRole('link', { name: 'Quests' }).click()

  // another for one stage: a beat of its own, led to by a rule of its own
  await page.getByRole('button', { name: 'Write another for ann at fetched' }).click()
  await page.waitForURL(/desk#square\.ann_fetched/)
  await expect(page.locator(field('square.ann_fetched#line1'))).toBeFocused()
  await page.keyboard.type('Is that my wool?')
  await settled(page)
  await page.getByRole('link', { name: 'Quests' }).click()
  await expect(cell('fetched')).toContainText('Is that my wool?')
  // copied to the next stage, to be changed there
  await page.getByRole('button', { name: 'Copy ann at fetched to the next stage' }).click()
  await page.waitForURL(/desk#square\.ann_sold/)
  await expect(page.locator(field('square.ann_sold#line1'))).toHaveValue('Is that my wool?')
  await settled(page)
  const { story } = await app.get<Stored>(`/api/stories/${id}`)
  expect(story.scenes[0]!.beats[0]!.choices!.find((choice) => choice.id === 'ann')!.to).toEqual([
    { when: "quest.wool == 'sold'", to: 'square.ann_sold' },
    { when: "quest.wool == 'fetched'", to: 'square.ann_fetched' },
    { to: 'square.ann' },
  ])
  await page.getByRole('link', { name: 'Quests' }).click()
  await page.getByLabel('What stands across').selectOption('salt')
  await expect(page.locator('[data-call-sheet=fresh]')).toBeVisible()
  await expect(page.getByRole('columnheader', { name: 'Wool fetched · Salt sold' })).toBeVisible()
  await page.getByLabel('What stands across').selectOption('first and later meetings')
  await expect(page.getByRole('columnheader', { name: 'first meeting' })).toBeVisible()
})

test('the ledger: values really taken, sentences, slips, another kind, merging, a table', async ({ page, app }) => {
  const id = await openStory(page, app, market)
  const stored = async () => (await app.get<Stored>(`/api/stories/${id}`)).story
  await page.getByRole('link', { name: 'Ledger' }).click()
  const coins = page.locator('[data-ledger=coins]')
  await expect(coins.locator('[data-taken]')).toHaveAttribute('data-taken', '0 1')
  await expect(coins).toContainText('never 2, 3')
  await expect(coins).toContainText('called nearly the same as coin')
  await coins.getByRole('button', { name: 'read 1×, changed 1×' }).click()
  await expect(coins.locator('[data-uses]')).toContainText('coins +1')
  await expect(coins.locator('[data-uses]')).toContainText('Home, with {coins} and {coin}.')

  // merged: what it would do is told first
  await page.getByRole('button', { name: 'Merge coin into another entry' }).click()
  await page.getByLabel('The entry that stays').selectOption('coins')
  await expect(page.getByRole('dialog').locator('[data-what-if=told]')).toContainText('2 places are rewritten')
  await page.getByRole('button', { name: 'Merge them' }).click()
  await settled(page)
  await expect(page.locator('[data-ledger=coin]')).toHaveCount(0)
  await expect(coins.locator('[data-taken]')).toHaveAttribute('data-taken', '0 1 2')
  expect((await stored()).scenes[0]!.beats[1]!.choices![1]!.do).toEqual(["quest.salt = 'sold'", 'coins += 1'])

  // another kind: what it rewrites, and what can't be said any more
  await page.getByLabel('Kind of coins').selectOption('switch')
  await page.getByLabel('Position for 0').fill('none')
  await expect(page.getByRole('dialog')).toContainText('have to be written anew')
  await page.getByRole('button', { name: 'Leave it' }).click()
  await expect(page.getByLabel('Kind of coins')).toHaveValue('counter')

  // out as a table and in again, with a row that is wrong, then with one that is new
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as CSV' }).click(),
  ])
  const table = await readFile(await download.path(), 'utf8')
  const take = (text: string) =>
    page
      .getByLabel('A CSV file of entries')
      .setInputFiles({ name: 'ledger.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
  await take(`${table}\r\nscale,sort,,,,,,`)
  await expect(page.getByRole('dialog').getByRole('alert')).toContainText('row 3: “scale”: “sort” is no kind')
  await page.getByRole('button', { name: 'Close' }).click()
  await take(`${table}\r\nscale,switch,stall,,,,"broken | fair = weighs true",`)
  await expect(page.getByRole('dialog')).toContainText('New: scale')
  await page.getByRole('button', { name: 'Take it over' }).click()
  await settled(page)
  expect((await stored()).ledger.at(-1)).toEqual({
    id: 'scale',
    kind: 'switch',
    group: 'stall',
    positions: ['broken', 'fair'],
    meanings: { fair: 'weighs true' },
  })

  // the cast: how much each says, and all of it in reading order
  await expect(page.getByRole('button', { name: 'Lines of Ann Tully' })).toContainText(
    '2 lines, 7 words, in 1 beat, met by 1 choice',
  )
  await page.getByRole('button', { name: 'Lines of Ann Tully' }).click()
  await expect(page.locator('[data-lines=ann]')).toContainText('It spins well.')
  await page.getByLabel('Colour of Ann Tully').fill('#336699')
  await settled(page)
  await page.getByRole('link', { name: 'Desk' }).click()
  await expect(page.locator('[data-mark-of=ann]').first()).toBeVisible()
})
