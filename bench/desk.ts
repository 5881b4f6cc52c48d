import { spawn } from 'node:child_process'
import { mkdtemp, rm } from 'node:fs/promises'
import { createServer } from 'node:net'
import { cpus, tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Page } from '@playwright/test'
import { ordinary, production } from './stories/families'

/** Prints what writing costs on the Desk, on a generated story in Chromium. Run with `npm run bench -- desk`. */

const BEATS = 10_000
const KEYS = 120
const WHEELS = 120

async function freePort(): Promise<number> {
  return new Promise((done) => {
    const server = createServer()
    server.listen(0, '127.0.0.1', () => {
      const address = server.address()
      server.close(() => done(typeof address === 'object' && address !== null ? address.port : 0))
    })
  })
}

function percentiles(values: readonly number[]): string {
  const sorted = [...values].sort((a, b) => a - b)
  const at = (share: number) => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))]!.toFixed(0).padStart(6)
  return `half ${at(0.5)} ms   nine of ten ${at(0.9)} ms   99 of 100 ${at(0.99)} ms   most ${at(1)} ms   (${values.length})`
}

/** From each keystroke to the picture after it, as the page itself sees it. */
async function typing(page: Page, field: string): Promise<number[]> {
  await page.locator(`[data-field="${field}"]`).focus()
  await page.evaluate(() => {
    const painted: number[] = []
    ;(window as unknown as { painted: number[] }).painted = painted
    window.addEventListener('keydown', () => {
      const pressed = performance.now()
      requestAnimationFrame(() => {
        const channel = new MessageChannel()
        channel.port1.onmessage = () => painted.push(performance.now() - pressed)
        channel.port2.postMessage(0)
      })
    }, { capture: true })
  })
  // with pauses, so that edits are made and surveyed in between
  for (let at = 0; at < KEYS; at += 1) await page.keyboard.press(at % 7 === 6 ? 'Space' : 'KeyA', { delay: at % 20 === 19 ? 600 : 40 })
  await page.waitForTimeout(300)
  return page.evaluate(() => (window as unknown as { painted: number[] }).painted)
}

/** From frame to frame while the manuscript is scrolled. */
async function scrolling(page: Page, box = '[data-manuscript]'): Promise<number[]> {
  await page.locator(box).hover()
  await page.evaluate(() => {
    const frames: number[] = []
    ;(window as unknown as { frames: number[] }).frames = frames
    let last = performance.now()
    const next = (now: number) => {
      frames.push(now - last)
      last = now
      requestAnimationFrame(next)
    }
    requestAnimationFrame(next)
  })
  for (let at = 0; at < WHEELS; at += 1) await page.mouse.wheel(0, at < WHEELS / 2 ? 180 : -180)
  return page.evaluate(() => (window as unknown as { frames: number[] }).frames.slice(1))
}

/** What it costs to turn to the other views, and to scroll in them. */
async function views(page: Page): Promise<void> {
  const open = async (name: string, ready: string) => {
    const start = performance.now()
    await page.getByRole('link', { name, exact: true }).click()
    await page.waitForSelector(ready, { timeout: 60_000 })
    return `${(performance.now() - start).toFixed(0)} ms`
  }
  const later = async (ready: string) => {
    const start = performance.now()
    await page.waitForSelector(ready, { timeout: 60_000 })
    return `${(performance.now() - start).toFixed(0)} ms later`
  }
  console.log(`  Quests drawn after ${await open('Quests', '[data-track-stage]')}, call sheet ${await later('[data-call-sheet=fresh]')}, moves ${await later('[data-track-kind=made]')}`)
  console.log(`    frame while scrolling  ${percentiles(await scrolling(page, '[data-quest]'))}`)
  console.log(`  Ledger drawn after ${await open('Ledger', '[data-ledger]')}, values ${await later('[data-taken]:not([data-taken=""])')}`)
  console.log(`    frame while scrolling  ${percentiles(await scrolling(page, 'main'))}`)
  console.log(`  Bearings drawn after ${await open('Bearings', '[data-reach]')}`)
  console.log(`  Rehearse drawn after ${await open('Rehearse', '[data-here]')}`)
}

const folder = await mkdtemp(join(tmpdir(), 'paper-compass-bench-'))
const port = await freePort()
const address = `http://127.0.0.1:${port}`
const app = spawn(process.execPath, ['scripts/start.mjs'], { env: { ...process.env, PORT: String(port), PAPER_COMPASS_DATA: folder, HOST: '127.0.0.1' }, stdio: ['ignore', 'pipe', 'inherit'] })
try {
  await new Promise<void>((ready) => app.stdout.on('data', (chunk: Buffer) => chunk.toString().includes('is ready') && ready()))
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-dev-shm-usage', '--disable-gpu', '--disable-background-networking'] })
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  console.log(`${cpus()[0]?.model ?? 'unknown processor'}, ${cpus().length} cores, Chromium ${browser.version()}`)
  for (const [name, story] of [[`${BEATS} beats in scenes of 25`, ordinary(BEATS)], [`${BEATS} beats in scenes of 300`, ordinary(BEATS, 1, 300)], [`${BEATS} beats, 60 quests of 5 stages, 300 entries, 150 people`, production(BEATS)]] as const) {
    const answer = await fetch(`${address}/api/stories`, { method: 'POST', headers: { 'Content-Type': 'application/octet-stream' }, body: JSON.stringify(story) })
    const { id } = (await answer.json()) as { id: string }
    const start = performance.now()
    await page.goto(`${address}/story/${id}/desk`)
    await page.waitForSelector('section.beat')
    const drawn = performance.now()
    await page.waitForSelector('[data-needle=settled]', { timeout: 120_000 })
    console.log(`${name}: drawn after ${(drawn - start).toFixed(0)} ms, surveyed after ${(performance.now() - start).toFixed(0)} ms`)
    console.log(`  keystroke to picture   ${percentiles(await typing(page, 's0.start#line1'))}`)
    await page.waitForSelector('[data-saving=saved]', { timeout: 60_000 })
    console.log(`  frame while scrolling  ${percentiles(await scrolling(page))}`)
    if (story.cast!.length > 1) await views(page)
  }
  await browser.close()
} finally {
  app.kill()
  await new Promise((done) => app.on('exit', done))
  await rm(folder, { recursive: true, force: true })
}
