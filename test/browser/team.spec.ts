import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PostgresServer } from '../postgres'
import { App, expect, field, freePort, needle, openStory, settled, shortStory, test } from './app'

const story = shortStory('Two desks', 'Here.', 'And there.')

test('two applications on one server are in step; what is written while the database is away, or one of them dies, is there after', async ({
  browser,
}) => {
  const server = await PostgresServer.start()
  const folder = await mkdtemp(join(tmpdir(), 'paper-compass-team-'))
  const url = await server.database('team')
  const settings = { PAPER_COMPASS_DATABASE_URL: url, PAPER_COMPASS_ACCOUNTS: 'off' }
  const apps = [
    new App(join(folder, 'one'), await freePort(), settings),
    new App(join(folder, 'other'), await freePort(), settings),
  ] as const
  for (const app of apps) if (!(await app.start()).ready) throw new Error(app.output)
  const context = await browser.newContext()
  await context.addInitScript(() => localStorage.setItem('paper-compass.tour', 'seen'))
  try {
    const [one, other] = [await context.newPage(), await context.newPage()]
    const id = await openStory(one, apps[0], story)
    await other.goto(`${apps[1].address}/story/${id}/desk`)
    await settled(other)
    const [first, second] = [field('quay.here#line1'), field('quay.here#line2')]
    await one.locator(first).fill('Here, by the water.')
    await expect(other.locator(first)).toHaveValue('Here, by the water.')
    await Promise.all([one.locator(first).fill('Here, at low tide.'), other.locator(second).fill('There, too.')])
    await expect(one.locator(second)).toHaveValue('There, too.')
    await expect(other.locator(first)).toHaveValue('Here, at low tide.')

    // the database goes away in the middle of writing, and comes back
    await server.end('SIGKILL')
    await one.locator(first).fill('Here, in the dark.')
    await expect(one.locator('[data-saving]')).toHaveAttribute('data-saving', 'failed')
    await expect(one.locator('[data-saving]')).toContainText('The database does not answer')
    await expect(needle(one)).toContainText('of 1 ending')
    const health = async () => {
      const answer = await fetch(`${apps[0].address}/health`)
      return { status: answer.status, ...((await answer.json()) as object) }
    }
    expect(await health()).toMatchObject({ status: 503, alive: true, database: 'away' })
    // whoever comes now is told, and let in by itself when it can be
    const third = await context.newPage()
    await third.goto(apps[1].address)
    await expect(third.getByRole('heading', { name: 'The stories can not be read now' })).toBeVisible()
    await server.begin()
    await settled(one)
    await expect(third.getByRole('link', { name: 'Two desks', exact: true })).toBeVisible()
    await third.close()
    expect(await health()).toEqual({
      status: 200,
      alive: true,
      database: 'answers',
      queue: { waiting: 0, running: 0, workers: 0 },
    })
    await expect(other.locator(first)).toHaveValue('Here, in the dark.')

    // one application dies; the other goes on
    await apps[0].stop('SIGKILL')
    await other.locator(second).fill('There, alone.')
    await settled(other)
    const { story: kept } = await apps[1].get<{ story: typeof story }>(`/api/stories/${id}`)
    expect(kept.scenes[0]!.beats[0]!.lines).toEqual([{ text: 'Here, in the dark.' }, { text: 'There, alone.' }])
    expect((await apps[0].start()).ready).toBe(true)
    await expect(one.locator(second)).toHaveValue('There, alone.')
  } finally {
    await context.close()
    for (const app of apps) await app.stop()
    await server.remove()
    await rm(folder, { recursive: true, force: true })
  }
})
