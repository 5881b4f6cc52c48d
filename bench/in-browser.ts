import { spawn } from 'node:child_process'
import { mkdtemp, rm } from 'node:fs/promises'
import { createServer } from 'node:net'
import { cpus, tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Page } from '@playwright/test'
import type { Story } from '../src/core/story/types'

async function freePort(): Promise<number> {
  return new Promise((done) => {
    const server = createServer()
    server.listen(0, '127.0.0.1', () => {
      const address = server.address()
      server.close(() => done(typeof address === 'object' && address !== null ? address.port : 0))
    })
  })
}

export function percentiles(values: readonly number[]): string {
  const sorted = [...values].sort((a, b) => a - b)
  const at = (share: number) =>
    sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))]!.toFixed(0).padStart(6)
  return `half ${at(0.5)} ms   nine of ten ${at(0.9)} ms   99 of 100 ${at(0.99)} ms   most ${at(1)} ms   (${values.length})`
}

/** From frame to frame while something is done, in milliseconds. */
export async function framesDuring(page: Page, work: () => Promise<void>): Promise<number[]> {
  await page.evaluate(() => {
    const frames: number[] = []
    const held = window as unknown as { frames: number[] }
    held.frames = frames
    let last = performance.now()
    const next = (now: number) => {
      frames.push(now - last)
      last = now
      if (held.frames === frames) requestAnimationFrame(next)
    }
    requestAnimationFrame(next)
  })
  await work()
  return page.evaluate(() => {
    const held = window as unknown as { frames: number[] }
    const { frames } = held
    held.frames = []
    return frames.slice(1)
  })
}

interface Bench {
  readonly page: Page
  readonly address: string
  /** Puts a story into the library; gives its id. */
  readonly add: (story: Story) => Promise<string>
}

/** Runs a bench in Chromium on the built application, with a data folder of its own; prints the machine first. */
export async function inBrowser(work: (bench: Bench) => Promise<void>): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'paper-compass-bench-'))
  const port = await freePort()
  const address = `http://127.0.0.1:${port}`
  const app = spawn(process.execPath, ['scripts/start.mjs'], {
    env: { ...process.env, PORT: String(port), PAPER_COMPASS_DATA: folder, HOST: '127.0.0.1' },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  try {
    await new Promise<void>((ready) =>
      app.stdout.on('data', (chunk: Buffer) => chunk.toString().includes('is ready') && ready()),
    )
    const browser = await chromium.launch({
      executablePath: '/usr/bin/chromium-headless-shell',
      args: ['--no-sandbox', '--disable-dev-shm-usage', '--disable-gpu', '--disable-background-networking'],
    })
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    await page.addInitScript(() => {
      localStorage.setItem('paper-compass.tour', 'seen')
      const Plain = window.Worker
      window.Worker = class extends Plain {
        constructor(url: string | URL, options?: WorkerOptions) {
          super(url, options)
          ;(window as unknown as { surveyWorker?: unknown }).surveyWorker ??= [String(url), options]
        }
      }
    })
    console.log(`${cpus()[0]?.model ?? 'unknown processor'}, ${cpus().length} cores, Chromium ${browser.version()}`)
    await work({
      page,
      address,
      add: async (story) => {
        const answer = await fetch(`${address}/api/stories`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/octet-stream' },
          body: JSON.stringify(story),
        })
        return ((await answer.json()) as { id: string }).id
      },
    })
    await browser.close()
  } finally {
    app.kill()
    await new Promise((done) => app.on('exit', done))
    await rm(folder, { recursive: true, force: true })
  }
}
