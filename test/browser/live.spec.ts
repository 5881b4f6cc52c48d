import { spawn, type ChildProcess } from 'node:child_process'
import { resolve } from 'node:path'
import { expect, freePort, settled, test } from './app'

let game: ChildProcess | undefined
test.afterEach(() => void game?.kill())

async function serveGame(): Promise<string> {
  const port = await freePort()
  const child = spawn(process.execPath, [resolve('scripts/game.mjs')], { env: { ...process.env, PORT: String(port) } })
  game = child
  await new Promise<void>((ready, failed) => {
    child.stdout.on('data', (chunk: Buffer) => chunk.toString().includes('is ready') && ready())
    child.stderr.on('data', (chunk: Buffer) => failed(new Error(chunk.toString())))
  })
  return `http://127.0.0.1:${port}`
}

test('a running game is followed on the Desk, takes up an edit at once, and is sent to another beat', async ({
  page,
  app,
  browser,
}) => {
  const story = await app.get<{ story: object }>(`/api/stories/${await app.idOf('The Causeway at Hollin Reach')}`)
  const made = await fetch(`${app.address}/api/stories`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: JSON.stringify({ ...story.story, title: 'Causeway on the line' }),
  })
  const { id } = (await made.json()) as { id: string }
  await page.goto(`${app.address}/story/${id}/export`)
  await settled(page)
  await expect(page.getByText('No game is on the line.')).toBeVisible()
  const key = /key: '([^']+)'/.exec(await page.locator('pre').innerText())![1]!

  const context = await browser.newContext()
  const player = await context.newPage()
  const desk = app.address.replace('http', 'ws')
  await player.goto(`${await serveGame()}/?desk=${encodeURIComponent(`${desk}/live`)}&key=${key}&round=100000`)
  await expect(player.getByRole('status').first()).toContainText('on the line with “Causeway on the line”')
  await expect(page.getByText('On the line: Quay walk.')).toBeVisible()

  // followed: the Desk goes along, the panel says what the game says
  await page.goto(`${app.address}/story/${id}/desk`)
  await settled(page)
  await page.getByRole('button', { name: 'Follow', exact: true }).click()
  const panel = page.getByRole('complementary', { name: 'The game Quay walk' })
  await expect(panel.locator('[data-game-at]')).toHaveAttribute('data-game-at', 'quay.log')
  await player.getByRole('textbox').fill('Plover')
  await player.keyboard.press('Enter')
  await expect(panel.locator('[data-game-at]')).toHaveAttribute('data-game-at', 'quay.morning')
  await expect(panel.getByRole('log')).toContainText('▸ Plover')
  await expect(panel.locator('[data-game-entry="pilot_name"]')).toContainText('Plover was empty')
  await expect(page).toHaveURL(/#quay\.morning$/)
  await expect(panel.locator('[data-game-choice="quay.morning.set_out"]')).toContainText('×')

  // walked up to by the arrow keys: Odile, whom one does not know by name yet
  const quay = player.locator('#quay')
  await quay.focus()
  const isNear = async () => /toll-keeper/.test((await quay.getAttribute('aria-description')) ?? '')
  await player.keyboard.press('ArrowUp', { delay: 800 })
  for (let steps = 0; steps < 60 && !(await isNear()); steps++) await player.keyboard.press('ArrowLeft', { delay: 60 })
  await expect(quay).toHaveAttribute('aria-description', /toll-keeper/)
  await player.keyboard.press('Enter')
  await expect(panel.locator('[data-game-at]')).toHaveAttribute('data-game-at', 'quay.odile')

  // an edit: what is on the game's screen is said otherwise a moment later
  const said = player.locator('#talk p').first()
  await expect(said).toContainText('Or one favour.')
  await page.locator('[data-field="quay.odile#line1.variant2.line1"]').click()
  await page.keyboard.press('End')
  await page.keyboard.type(' Mind the gulls.')
  await expect(said).toContainText('Mind the gulls.')
  await expect(panel.getByRole('log')).toContainText('edit taken up: what is on its screen is said otherwise now')

  // sent to a beat that can be come to
  await page.keyboard.press('Escape')
  await page.goto(`${app.address}/story/${id}/desk#mill.yard`)
  await expect(panel).toBeVisible()
  await panel.getByRole('button', { name: /^Send it to/ }).click()
  await expect(panel.locator('[data-game-at]')).toHaveAttribute('data-game-at', /^mill\./)
  await expect(panel.getByRole('log')).toContainText('sent here')

  // a game that goes away leaves nothing behind
  await context.close()
  await expect(panel).toHaveCount(0)
  await expect(page.getByRole('region', { name: 'Running games' })).toHaveCount(0)
})
