import { spawn } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ensurePackages, root } from './ensure.mjs'

/** Takes the pictures of docs/screenshots anew, from the samples on an empty data folder. */

ensurePackages()
const { chromium } = await import('@playwright/test')
const folder = mkdtempSync(join(tmpdir(), 'paper-compass-pictures-'))
const pictures = join(root, 'docs', 'screenshots')
mkdirSync(pictures, { recursive: true })
const port = '3911'
const server = spawn(process.execPath, [join(root, 'scripts/start.mjs')], {
  env: { ...process.env, PORT: port, PAPER_COMPASS_DATA: folder },
  stdio: ['ignore', 'pipe', 'inherit'],
})
await new Promise((ready) => server.stdout.on('data', (chunk) => String(chunk).includes('is ready') && ready()))
const base = `http://127.0.0.1:${port}`
const { cards: stories } = await (await fetch(`${base}/api/stories`)).json()
const find = (title) => stories.find((story) => story.title.startsWith(title)).id
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium-headless-shell',
  args: [
    '--no-sandbox',
    '--disable-dev-shm-usage',
    '--disable-gpu',
    '--disable-background-networking',
    '--no-first-run',
  ],
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
// the tour stands before the samples only once
await page.addInitScript(() => localStorage.setItem('paper-compass.tour', 'seen'))
const take = async (name) => {
  await page.waitForTimeout(500)
  await page.screenshot({ path: join(pictures, `${name}.png`) })
}
const open = async (title, view, hash = '') => {
  await page.goto(`${base}/story/${find(title)}/${view}${hash}`)
  await page.waitForSelector('[data-needle=settled]')
}

await page.goto(base)
await take('library')
await open('The Causeway', 'desk', '#quay.odile')
await page.locator('[data-bearing]').waitFor()
await take('desk')
await open('The Causeway', 'desk', '#quay.odile')
await page.locator('[data-field="quay.odile.favour?when"]').click()
await page.getByRole('group', { name: 'Gate' }).waitFor()
await take('gate')
await page.keyboard.press('Escape')
await open('The Causeway', 'rehearse')
await page.locator('[data-field=word]').fill('Wren')
for (const key of ['Enter', '1', '2', '3']) {
  await page.keyboard.press(key)
  await page.waitForTimeout(200)
}
await take('rehearse')
await open('The Causeway', 'ledger')
await page.locator('[data-taken]:not([data-taken=""])').first().waitFor()
await take('ledger')
await open('The Causeway', 'quests')
await page.locator('[data-call-sheet=fresh]').waitFor()
await page.locator('[data-track-kind=made]').first().waitFor()
await take('quests')
await page.locator('[data-call-sheet]').evaluate((sheet) => sheet.scrollIntoView())
await take('call-sheet')
await open('The Causeway', 'bearings')
await page.getByRole('tab', { name: 'Simulated players' }).click()
await page.locator('[data-played]').waitFor()
await take('players')
await open('The Causeway', 'languages')
await take('languages')
await open('The Causeway', 'export')
await page.getByText('No game is on the line.').waitFor()
await take('export')
const key = /key: '([^']+)'/.exec(await page.locator('pre').innerText())[1]
await page.goto(`${base}/story/${find('The Causeway')}/play`)
await page.getByRole('button', { name: 'Begin' }).click()
await page.locator('#word').fill('Wren')
for (const press of ['Enter', '1', '1']) {
  await page.keyboard.press(press)
  await page.waitForTimeout(200)
}
await take('page')
const game = spawn(process.execPath, [join(root, 'scripts/game.mjs')], {
  env: { ...process.env, PORT: '3912' },
  stdio: ['ignore', 'pipe', 'inherit'],
})
await new Promise((ready) => game.stdout.on('data', (chunk) => String(chunk).includes('is ready') && ready()))
const player = await browser.newPage()
await player.goto(`http://127.0.0.1:3912/?key=${key}&desk=ws://127.0.0.1:${port}/live&round=100000`)
await open('The Causeway', 'desk', '#quay.morning')
await page.getByRole('button', { name: 'Follow', exact: true }).click()
await player.locator('input').fill('Wren')
await player.keyboard.press('Enter')
await page.locator('[data-game-at="quay.morning"]').waitFor()
await take('live')
await player.close()
game.kill()
await open('The Causeway', 'atlas', '?show=ending&of=across')
await page.waitForFunction(() => document.querySelector('[data-says]')?.textContent?.includes('in every case'))
// the simulated players, who come last
await page.waitForTimeout(6000)
await take('atlas')
await open('The Causeway', 'atlas', '?near=1#quay.morning')
await page.waitForTimeout(1500)
await take('atlas-near')
await open('First draft', 'bearings')
await page.getByRole('button', { name: 'Why not: across', exact: true }).click()
await take('bearings')
// a version, an edit that closes an ending, and the comparison
await open('The Causeway', 'history')
await page.getByLabel('Name of the version').fill('Before the rope was rare')
await page.keyboard.press('Enter')
await page.locator('[data-version]').waitFor()
await open('The Causeway', 'desk', '#quay.morning')
await page.locator('[data-field="quay.morning.take_rope?do1"]').click()
await page.locator('[data-field="quay.morning.take_rope?do1:edit"]').fill('')
await page.keyboard.press('Enter')
await page.locator('[data-consequence]').waitFor()
await open('The Causeway', 'history')
await page.getByRole('button', { name: /^Compare Before the rope/ }).click()
await page.locator('[data-verdicts=told]').waitFor()
await take('history')
await page.emulateMedia({ colorScheme: 'dark' })
await open('First draft', 'desk', '#mill.tamsin')
await page.locator('[data-bearing]').waitFor()
await take('desk-dark')

await browser.close()
server.kill('SIGTERM')
rmSync(folder, { recursive: true, force: true })
