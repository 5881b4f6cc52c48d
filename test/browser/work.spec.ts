import { randomUUID } from 'node:crypto'
import { unevenBudget } from '../../bench/stories/families'
import type { SimulationResult } from '../../src/core/simulate/result'
import { expect, needle, openStory, settled, shortStory, test } from './app'

interface Listed {
  readonly jobs: readonly { readonly id: string; readonly state: string }[]
}

test('a great many playthroughs go on while one is elsewhere, are shown when they are done, and can be stopped', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, shortStory('Many players', 'The tide turns.'))
  await page.goto(`${app.address}/story/${id}/bearings?part=players`)
  const playMany = async (plays: string) => {
    await page.getByLabel('Playthroughs').selectOption(plays)
    await page.getByRole('button', { name: 'Play', exact: true }).click()
  }
  const jobs = page.locator('[data-job]')
  await playMany('200000')
  await expect(jobs.first()).toContainText('200,000 playthroughs, at random, seed 1')
  await page.reload()
  await expect(jobs.first()).toHaveAttribute('data-job', 'done', { timeout: 60_000 })
  await page.getByRole('button', { name: 'Show' }).click()
  await expect(page.locator('[data-played]')).toHaveAttribute('data-played', '200000')
  const { jobs: listed } = await app.get<Listed>(`/api/stories/${id}/jobs`)
  const kept = await app.get<SimulationResult>(`/api/stories/${id}/jobs/${listed[0]!.id}`)
  expect(kept.endings.home!.plays).toBe(200_000)

  await playMany('10000000')
  await expect(jobs.first()).toHaveAttribute('data-job', 'running')
  await expect(jobs.first().getByRole('progressbar')).toHaveAttribute('aria-valuemax', '10000000')
  await jobs.first().getByRole('button', { name: 'Stop' }).click()
  await expect(jobs.first()).toHaveAttribute('data-job', 'cancelled')
  expect((await app.get<Listed>(`/api/stories/${id}/jobs`)).jobs.map(({ state }) => state)).toEqual([
    'cancelled',
    'done',
  ])
  expect(await app.get('/health')).toMatchObject({ queue: { waiting: 0, running: 0, workers: 1 } })
})

test('where the page leaves a survey off the server goes on, and the page says what it found', async ({
  page,
  app,
}) => {
  const answer = await page.request.post(`${app.address}/api/stories`, {
    headers: { 'Content-Type': 'application/octet-stream' },
    data: Buffer.from(JSON.stringify(unevenBudget(22, 70))),
  })
  const { id } = (await answer.json()) as { id: string }
  await page.goto(`${app.address}/story/${id}/bearings`)
  await page.getByRole('contentinfo', { name: 'The needle' }).getByRole('button', { name: 'Stop' }).click()
  await settled(page)
  await expect(needle(page)).toContainText('cut short')
  await page.getByRole('button', { name: 'Let the server go on' }).click()
  await expect(page.locator('[data-job]')).toHaveAttribute('data-job', 'running')
  // the page takes over what it says
  await expect(needle(page)).toContainText('exact', { timeout: 90_000 })
  await expect(page.getByText('The survey was cut short')).toHaveCount(0)
  await page
    .getByRole('button', { name: /^Walk it: / })
    .first()
    .click()
  await expect(page).toHaveURL(/rehearse/)
})

test('saves of all released versions are looked at, and each is told of', async ({ page, app }) => {
  const story = shortStory('Released twice', 'The tide turns.')
  const id = await openStory(page, app, story)
  await page.goto(`${app.address}/story/${id}/history`)
  const other = await page.context().newPage()
  await other.goto(`${app.address}/story/${id}/desk`)
  await settled(other)
  await page.bringToFront()
  for (const name of ['First', 'Second']) {
    await page.getByLabel('Name of the version').fill(name)
    await page.getByRole('button', { name: 'Name this version' }).click()
    await page.getByRole('button', { name: `Players have ${name}` }).click()
    // at last the way on from the quay goes away: who saved there is stuck
    const item = { ...story.scenes[0]!.beats[0]!, ...(name === 'First' ? { notes: 'Low tide.' } : { choices: [] }) }
    const change = { op: 'replace', in: { list: 'beats', scene: 'quay' }, id: 'here', at: 0, item }
    const sent = await page.request.post(`${app.address}/api/stories/${id}/changes`, {
      data: { request: randomUUID(), change },
    })
    expect(sent.ok()).toBe(true)
  }
  // another window, open since before, knows of both, and says what the edit did
  await expect(other.locator('[data-released]')).toHaveCount(2)
  await other.close()
  await page.getByRole('button', { name: 'Look at all released versions' }).click()
  await expect(page.locator('[data-job]')).toHaveAttribute('data-job', 'done')
  await page.getByRole('button', { name: 'Show' }).click()
  await expect(page.locator('[data-all-released]')).toHaveCount(2)
})

test('the survey of all stories says what is new since the one before', async ({ page, app }) => {
  const story = shortStory('Surveyed at night', 'The tide turns.')
  const id = await openStory(page, app, story)
  await page.goto(app.address)
  await page.getByRole('link', { name: 'Nights' }).click()
  const night = async () => {
    await page.getByRole('button', { name: 'Survey all stories now' }).click()
    await expect(page.getByRole('button', { name: 'Survey all stories now' })).toHaveCount(0)
    await expect(page.getByRole('button', { name: 'Survey all stories now' })).toBeVisible({ timeout: 60_000 })
  }
  await night()
  const row = page.locator(`[data-night-story="${id}"]`)
  await expect(row).toContainText('1 of 1 endings')
  await expect(row).toContainText('for the first time')
  const item = { ...story.scenes[0]!.beats[0]!, choices: [] }
  const change = { op: 'replace', in: { list: 'beats', scene: 'quay' }, id: 'here', at: 0, item }
  await page.request.post(`${app.address}/api/stories/${id}/changes`, { data: { request: randomUUID(), change } })
  await night()
  await expect(row).toContainText('New')
  await expect(row).toContainText('0 of 1 endings')
  // what is new stands first
  await expect(page.locator('[data-night-story]').first()).toHaveAttribute('data-night-story', id)
  await row.getByRole('link').click()
  await settled(page)
  await expect(needle(page)).toContainText('0 of 1 endings')
})
