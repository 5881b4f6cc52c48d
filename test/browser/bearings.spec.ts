import { readFile } from 'node:fs/promises'
import type { Page } from '@playwright/test'
import { questsAroundHub } from '../../bench/stories/families'
import type { Beat, Scene } from '../../src/core/story/types'
import { addTo, type App, expect, field, needle, openStory, settled, test } from './app'

/** A sample under another title, so that the library of other tests stays as they know it. */
async function copyOf(app: App, title: string): Promise<string> {
  const { story } = await app.get<{ story: object }>(`/api/stories/${await app.idOf(title)}`)
  const answer = await fetch(`${app.address}/api/stories`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: JSON.stringify({ ...story, title: `Worked over: ${title}` }),
  })
  return ((await answer.json()) as { id: string }).id
}

/** Opens a view of a story by its address, and waits for the survey. */
async function show(page: Page, app: App, id: string, view: string): Promise<void> {
  await page.goto(`${app.address}/story/${id}/${view}`)
  await settled(page)
}

async function road(page: Page, name: string, to: string): Promise<void> {
  await page.locator(field(name)).click()
  await page.locator(field(`${name}:edit`)).fill(to)
  await page.keyboard.press('Enter')
  await settled(page)
}

async function newChoice(page: Page, after: string, text: string, to: string): Promise<void> {
  const beat = after.slice(0, after.lastIndexOf('.'))
  await page.locator(field(after)).focus()
  await page.keyboard.press('Control+Enter')
  await expect(page.locator(field(`${beat}.choice`))).toBeFocused()
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
  await page.keyboard.type(to)
  await page.keyboard.press('Enter')
  await settled(page)
}

async function note(page: Page, at: string, source: string): Promise<void> {
  await page.locator(field(at)).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type(source)
  await page.keyboard.press('Enter')
  await settled(page)
}

test('every mistake of the draft is found, explained and mended, until all is reached', async ({ page, app }) => {
  const id = await copyOf(app, 'First draft of Hollin Reach')
  await show(page, app, id, 'bearings')
  await expect(needle(page)).toContainText('2 of 6 endings and stages reached')
  // what comes later, shares of players and mends, moves nothing that one may be about to press
  const last = page.locator('[data-finding]').last()
  const before = await last.boundingBox()
  await expect(page.locator('[data-share]')).toHaveCount(2)
  await expect(page.locator('[data-mend]')).toHaveCount(6)
  expect(await last.boundingBox()).toEqual(before)

  // what is certain takes one press each
  for (const [finding, says] of [
    ['problem quay.morning.signal when', 'write lantern for lantren'],
    ['unreached quay.morning#line1.variant2', 'put the variant that always holds last'],
    ['unreached quay.morning.stay', 'ask for tide <= 1'],
    ['dead-end mill.tamsin', 'let it go on to mill · yard otherwise'],
    ['overrun rope quay.morning.rope', 'let it be taken once'],
    ['always-open mill.yard.back when', 'take the gate away'],
  ] as const) {
    const [kind, ...key] = finding.split(' ')
    const row = page.locator(`[data-finding="${kind}"][data-key="${key.join(' ')}"]`)
    await expect(row.locator('[data-mend]')).toContainText(says)
    await row.locator('[data-mend]').click()
    await settled(page)
    await expect(row).toHaveCount(0)
  }
  await expect(page.locator('[data-reach=harvest]')).toHaveAttribute('data-verdict', 'reached')

  // a beat that no road leads to, and what that keeps away
  await page.getByRole('button', { name: 'Why not: across' }).click()
  await expect(page.locator('[data-why=across]')).toContainText('set at “Oil, and a tinderbox.”, which is on no route')
  await page.getByRole('button', { name: 'Why not: mill.loft' }).click()
  await expect(page.locator('[data-why="mill.loft"]')).toContainText('No road leads here')
  await page.getByRole('button', { name: 'Why not: sluice.refused' }).click()
  await expect(page.locator('[data-why="sluice.refused"]')).toContainText('no effect sets this stage')
  await page.goto(`${app.address}/story/${id}/desk#mill.yard`)
  await settled(page)
  await newChoice(page, 'mill.yard.ask_light', 'Climb to the loft', 'mill.loft')
  // no way back from the sluice
  await road(page, 'mill.sluice.again>to', 'mill.yard')

  // the voice that leads round and round
  await page.goto(`${app.address}/story/${id}/desk#flats.voice`)
  await settled(page)
  await road(page, 'flats.voice#onward1>to', 'flats.stranded')

  // a stage that nothing sets, a name shown before there is one, an effect that nobody asks for
  await page.goto(`${app.address}/story/${id}/desk#quay.morning`)
  await settled(page)
  await newChoice(page, 'quay.morning.favour', 'Tell her no', 'quay.morning')
  await note(page, 'quay.morning.tell_her_no+when', "quest.sluice == 'asked'")
  await addTo(page, 'quay.morning.tell_her_no', 'do')
  await page.keyboard.type("quest.sluice = 'refused'")
  await page.keyboard.press('Enter')
  await settled(page)
  await page.locator(field('quay.morning#line2')).fill('Name for the log?')
  await page.locator(field('quay.morning.favour?do2')).click()
  await page.locator(field('quay.morning.favour?do2:edit')).fill('')
  await page.keyboard.press('Enter')
  await settled(page)
  await page.getByRole('link', { name: 'Ledger' }).click()
  for (const entry of ['pilot_name', 'favours']) {
    await page.getByRole('button', { name: `Delete ${entry}` }).click()
    // nothing names it any more, so it goes at once
    await expect(page.locator(`[data-ledger=${entry}]`)).toHaveCount(0)
  }
  await settled(page)

  // a promise that swore too much, and a route that has got another way round
  await page.getByRole('link', { name: 'Bearings' }).click()
  await page.getByRole('button', { name: 'Walk it: can_finish' }).click()
  await page.waitForURL(/rehearse/)
  await page.getByRole('link', { name: 'Bearings' }).click()
  await page.getByRole('button', { name: 'Delete the promise can_finish' }).click()
  await page.getByRole('button', { name: 'Mend: Plain crossing' }).click()
  await settled(page)
  await expect(page.locator('[data-route=crossing]')).toHaveAttribute('data-route-broken', 'false')

  await expect(needle(page)).toContainText('6 of 6 endings and stages reached')
  // the favour may be left undone: that is meant, and two findings tell it
  await expect(page.locator('[data-finding]')).toHaveCount(2)
  for (const [kind, reason] of [
    ['stranded-stage', 'Who sails, sails.'],
    ['left-open', 'One may sail on a promise.'],
  ] as const) {
    await page
      .locator(`[data-finding=${kind}]`)
      .getByRole('button', { name: /^Set aside/ })
      .click()
    await page.getByLabel('Why it is meant so').fill(reason)
    await page.keyboard.press('Enter')
    await settled(page)
    await expect(page.locator(`[data-finding=${kind}]`)).toHaveCount(0)
  }
  await expect(page.getByText('Nothing is wrong')).toBeVisible()

  // the reasons are kept, and a finding comes back when it is wanted
  await page.reload()
  await settled(page)
  await page.getByRole('button', { name: '2 set aside' }).click()
  await expect(page.locator('[data-aside="left-open sluice asked"]')).toContainText('One may sail on a promise.')
  const { story } = await app.get<{ story: { setAside: unknown[] } }>(`/api/stories/${id}`)
  expect(story.setAside).toMatchObject([
    { kind: 'stranded-stage', about: ['sluice', 'asked'], reason: 'Who sails, sails.' },
    { kind: 'left-open', about: ['sluice', 'asked'], reason: 'One may sail on a promise.' },
  ])
  await page.getByRole('button', { name: 'Bring back: left open sluice' }).click()
  await expect(page.locator('[data-finding="left-open"]')).toBeVisible()
})

test('findings are listed by kind', async ({ page, app }) => {
  await show(page, app, await app.idOf('First draft of Hollin Reach'), 'bearings')
  const all = await page.locator('[data-finding]').count()
  await page.getByLabel('Kind of finding').selectOption('unreached')
  const some = await page.locator('[data-finding]').count()
  expect(some).toBe(await page.locator('[data-finding=unreached]').count())
  expect(some).toBeLessThan(all)
  await page.getByRole('button', { name: /warnings$/ }).click()
  await expect(page.locator('[data-finding]')).toHaveCount(4)
})

test('simulated players: shares beside the endings, charts of their own, saved as picture and table', async ({
  page,
  app,
}) => {
  await show(page, app, await app.idOf('The Causeway at Hollin Reach'), 'bearings')
  await expect(page.locator('[data-reach=across] [data-share]')).toContainText('% of players')
  await page.getByRole('tab', { name: 'Simulated players' }).click()
  await expect(page.locator('[data-played="1000"]')).toBeVisible()
  const first = await page.locator('[data-chart=endings] svg').getAttribute('aria-label')
  await page.getByLabel('A player who').selectOption('ending:harvest')
  await page.getByLabel('Playthroughs').selectOption('200')
  await page.getByRole('button', { name: 'Play', exact: true }).click()
  await expect(page.locator('[data-played="200"]')).toBeVisible()
  await expect(page.locator('[data-chart=endings] svg')).toHaveAttribute(
    'aria-label',
    /Stayed for the harvest: 100\.0 %/,
  )
  // the same seed, the same figures
  await page.getByLabel('A player who').selectOption('random')
  await page.getByLabel('Playthroughs').selectOption('1000')
  await page.getByRole('button', { name: 'Play', exact: true }).click()
  await expect(page.locator('[data-chart=endings] svg')).toHaveAttribute('aria-label', first!)

  const saved = async (name: string) => {
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name }).click()])
    return { name: download.suggestedFilename(), text: await readFile(await download.path(), 'utf8') }
  }
  const picture = await saved('Save as SVG: How it ends')
  expect(picture.name).toBe('endings.svg')
  expect(picture.text).toContain('<title>How it ends</title>')
  const table = await saved('Save all figures as CSV')
  const across = table.text
    .split('\r\n')
    .find((row) => row.startsWith('ending,across'))!
    .split(',')
  expect(picture.text).toContain(`${(Number(across[4]) * 100).toFixed(1)} %`)

  // seldom seen things lead to the text
  const seldom = page.locator('[data-seen]').first()
  const address = (await seldom.getAttribute('data-seen'))!
  await seldom.getByRole('button', { name: `Go to it: ${address}` }).click()
  await page.waitForURL(/desk/)
  await expect(page.locator(field(`${address.split('.').slice(0, 2).join('.')}:name`))).toBeInViewport()
})

test('a reading list shows everything, is walked, and is kept as routes', async ({ page, app }) => {
  const id = await copyOf(app, 'The Causeway at Hollin Reach')
  await show(page, app, id, 'bearings')
  await page.getByRole('button', { name: 'Make a reading list' }).click()
  const rows = page.locator('[data-reading]')
  await expect(rows.first()).toBeVisible()
  const count = await rows.count()
  await page.getByRole('button', { name: 'Keep them all as routes' }).click()
  await settled(page)
  const { story } = await app.get<{ story: { routes: { id: string; decisions: unknown[] }[] } }>(`/api/stories/${id}`)
  const kept = story.routes.filter((route) => route.id.startsWith('reading_'))
  expect(kept).toHaveLength(count)
  await expect(page.locator('[data-route-broken=true]')).toHaveCount(0)
  await page.getByRole('button', { name: 'Walk it: Reading 1', exact: true }).click()
  // what the game sets is no decision
  const decided = kept[0]!.decisions.filter((item) => !('given' in (item as object)))
  await expect(page.getByText(`${decided.length} decisions taken`)).toBeVisible()
})

test('after other words were written a finding is still mended', async ({ page, app }) => {
  const id = await openStory(page, app, {
    paperCompass: 1,
    title: 'Reworded',
    language: 'en',
    start: 'quay.here',
    endings: [{ id: 'end', name: 'End' }],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          {
            id: 'here',
            lines: [{ text: 'A quay.' }],
            choices: [{ id: 'on', text: 'On', when: "visits('quay.here') > 0", to: 'quay.there' }],
          },
          { id: 'there', ending: 'end' },
        ],
      },
    ],
  })
  await page.locator('[data-field="quay.here#line1"]').fill('Another quay.')
  await page.locator('[data-field="quay.here#line1"]').blur()
  await settled(page)
  await page.getByRole('link', { name: 'Bearings', exact: true }).click()
  const row = page.locator('[data-finding="always-open"]')
  await row.locator('[data-mend]').click()
  await expect(row).toHaveCount(0)
  await settled(page)
  const { story } = await app.get<{
    story: { scenes: { beats: { lines?: { text: string }[]; choices?: { when?: string }[] }[] }[] }
  }>(`/api/stories/${id}`)
  expect(story.scenes[0]!.beats[0]).toMatchObject({ lines: [{ text: 'Another quay.' }] })
  expect(story.scenes[0]!.beats[0]!.choices![0]!.when).toBeUndefined()
})

test('a dozen errands open at once are decided, with what can be true, the way to each mistake, and why not', async ({
  page,
  app,
}) => {
  const open = questsAroundHub(12)
  const [
    {
      beats: [start, end],
      ...hub
    },
  ] = open.scenes as [Scene & { beats: [Beat, Beat] }]
  const lose = {
    id: 'lose',
    text: 'Lose it',
    when: "quest.q7 == 's1' && quest.q2 == 's3'",
    do: ["quest.q7 = 'lost'"],
    to: 'hub.start',
  }
  const odd = { id: 'odd', text: 'Odd', when: "quest.q7 == 'lost' && quest.q2 != 's3'", to: 'hub.end' }
  const story = {
    ...open,
    title: 'Twelve errands',
    quests: open.quests!.map((quest, at) =>
      at === 7 ? { ...quest, stages: [...quest.stages, { id: 'lost', name: 'Lost' }] } : quest,
    ),
    scenes: [{ ...hub, beats: [{ ...start, choices: [...start.choices!, lose, odd] }, end] }],
  }
  const answer = await fetch(`${app.address}/api/stories`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: JSON.stringify(story),
  })
  const { id } = (await answer.json()) as { id: string }
  await show(page, app, id, 'desk')
  await expect(needle(page)).toContainText('50 of 50 endings and stages reached · 1 dead end · 1 no way out · exact')
  const bearing = page.getByRole('complementary', { name: /bearing/i })
  await expect(bearing).toContainText('not started, Stage 0, Stage 1, Stage 2, Stage 3, Lost')
  await expect(bearing).toContainText('in some')

  await page.getByRole('link', { name: 'Bearings', exact: true }).click()
  await page.getByRole('button', { name: 'Why not: hub.start.odd' }).click()
  await expect(page.locator('[data-why="hub.start.odd"]')).toContainText(
    'It would open without “Quest 2 is not at “Stage 3””',
  )
  await page
    .locator('[data-reach=end]')
    .getByRole('button', { name: /walk it/i })
    .click()
  await expect(page).toHaveURL(/rehearse/)
  await expect(page.locator('[data-ended=end]')).toBeVisible()
})

test('a promise is begun from anywhere, named first, and picks an ending by its name', async ({ page, app }) => {
  const id = await openStory(page, app, {
    paperCompass: 1,
    title: 'A promise of the ferry',
    language: 'en',
    start: 'bank.here',
    endings: [{ id: 'over', name: 'Over the water' }],
    scenes: [{ id: 'bank', title: 'Bank', beats: [{ id: 'here', ending: 'over' }] }],
  })
  await settled(page)
  await page.keyboard.press('Control+k')
  await page.keyboard.type('make a promise')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Name of a new promise')).toBeFocused()
  await page.keyboard.type('never over')
  await page.keyboard.press('Enter')
  await page.getByLabel('What it depends on').selectOption({ label: 'ended with “Over the water”' })
  await page.getByRole('button', { name: 'Done' }).click()
  await expect(page.locator('[data-finding="promise-broken"]')).toBeVisible()
  await settled(page)
  const { story } = await app.get<{ story: { promises: object[] } }>(`/api/stories/${id}`)
  expect(story.promises).toEqual([{ id: 'never_over', kind: 'never', holds: "ended('over')" }])
})
