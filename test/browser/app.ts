import { test as base, expect, type BrowserContext, type Page } from '@playwright/test'
import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { freePort } from '../free-port'
import { SHORT_LIVED } from '../short-lived'
import { shortStory } from '../short-story'

/** The built application in a process of its own, on a data folder of its own. */
export class App {
  private process: ChildProcess | undefined
  output = ''

  constructor(
    readonly folder: string,
    readonly port: number,
    private readonly settings: Readonly<Record<string, string>> = {},
  ) {}

  get address(): string {
    return `http://127.0.0.1:${this.port}`
  }

  /** Starts it; gives once the first page can be opened, or the process has ended. */
  async start(): Promise<{ readonly ready: boolean }> {
    const child = spawn(process.execPath, [SHORT_LIVED, resolve('scripts/start.mjs')], {
      env: {
        ...process.env,
        PORT: String(this.port),
        PAPER_COMPASS_DATA: this.folder,
        PAPER_COMPASS_DATABASE_URL: '',
        HOST: '127.0.0.1',
        ...this.settings,
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    this.process = child
    this.output = ''
    return new Promise((done) => {
      const hear = (chunk: Buffer) => {
        this.output += chunk.toString()
        if (this.output.includes('is ready')) done({ ready: true })
      }
      child.stdout.on('data', hear)
      child.stderr.on('data', hear)
      child.on('exit', () => done({ ready: false }))
    })
  }

  async stop(signal: 'SIGTERM' | 'SIGKILL' | 'SIGINT' = 'SIGTERM'): Promise<number | null> {
    const child = this.process
    if (child === undefined || child.exitCode !== null) return child?.exitCode ?? null
    const ended = new Promise<number | null>((done) => child.on('exit', (code) => done(code)))
    child.kill(signal)
    return ended
  }

  async get<T>(path: string): Promise<T> {
    return (await fetch(this.address + path)).json() as Promise<T>
  }

  async idOf(title: string): Promise<string> {
    const { cards } = await this.get<{ cards: { id: string; title: string }[] }>(
      `/api/stories?q=${encodeURIComponent(title)}`,
    )
    return cards.find((story) => story.title === title)!.id
  }

  async count(): Promise<number> {
    return (await this.get<{ total: number }>('/api/stories')).total
  }
}

/** One window for all tests of a file: what the browser keeps of a script that it has read before halves the work of every load. */
class Window {
  private page: Page | undefined

  constructor(
    readonly context: BrowserContext,
    private readonly address: string,
  ) {}

  /** The window as if it had just been opened, whatever was done in it before. */
  async open(): Promise<Page> {
    for (const page of this.context.pages()) if (page !== this.page) await page.close()
    if (this.page === undefined || this.page.isClosed()) return (this.page = await this.context.newPage())
    const { page } = this
    page.removeAllListeners()
    await page.unrouteAll()
    // its story is left before what it kept is gone; elsewhere than on its host the browser would begin a process anew
    await page.goto(`${this.address}/health`)
    await page.evaluate(() => sessionStorage.clear())
    const protocol = await this.context.newCDPSession(page)
    await protocol.send('Storage.clearDataForOrigin', { origin: this.address, storageTypes: 'all' })
    await protocol.detach()
    await this.context.clearCookies()
    await page.emulateMedia({ colorScheme: null, media: null })
    await page.setViewportSize(SIZE)
    await page.mouse.move(0, 0)
    return page
  }
}

const SIZE = { width: 1280, height: 800 }

export const test = base.extend<{ quiet: void }, { app: App; window: Window }>({
  app: [
    async ({}, use) => {
      const folder = await mkdtemp(join(tmpdir(), 'paper-compass-browser-'))
      const app = new App(folder, await freePort())
      const { ready } = await app.start()
      if (!ready) throw new Error(app.output)
      await use(app)
      await app.stop()
      await rm(folder, { recursive: true, force: true })
    },
    { scope: 'worker', timeout: 120_000 },
  ],
  window: [
    async ({ browser, app }, use) => {
      const context = await browser.newContext({ viewport: SIZE })
      // the tour has a test of its own
      await context.addInitScript(() => {
        if (!location.search.includes('tour')) localStorage.setItem('paper-compass.tour', 'seen')
      })
      await use(new Window(context, app.address))
      await context.close()
    },
    { scope: 'worker' },
  ],
  context: ({ window }, use) => use(window.context),
  page: async ({ window }, use) => use(await window.open()),
  // Every test: nothing is asked of another host, and the console stays clean.
  quiet: [
    async ({ page, app }, use) => {
      const troubles: string[] = []
      const known: string[] = []
      page.on('request', (request) => {
        const { origin } = new URL(request.url())
        if (origin !== app.address && !request.url().startsWith('data:')) troubles.push(`asked ${request.url()}`)
      })
      page.on('console', (message) => {
        // refused requests are tested for, and the browser reports each
        if (message.type() === 'error' && !/Failed to load resource/.test(message.text())) troubles.push(message.text())
        else known.push(message.text())
      })
      page.on('pageerror', (error) => troubles.push(error.message))
      await use()
      expect(troubles).toEqual([])
    },
    { auto: true },
  ],
})

/** Opens a story of its own for a test, made from a file. */
export async function openStory(page: Page, app: App, story: object): Promise<string> {
  const answer = await fetch(`${app.address}/api/stories`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: JSON.stringify(story),
  })
  const { id } = (await answer.json()) as { id: string }
  await page.goto(`${app.address}/story/${id}/desk`)
  await settled(page)
  return id
}

/** Waits until every edit is saved and surveyed. */
export async function settled(page: Page): Promise<void> {
  await expect(page.locator('[data-saving]')).toHaveAttribute('data-saving', 'saved')
  await expect(page.locator('[data-needle]')).toHaveAttribute('data-needle', 'settled')
}

/** Goes to another view of the open story by its link, as one does. */
export async function turnTo(page: Page, view: string): Promise<void> {
  const name = view.slice(0, 1).toUpperCase() + view.slice(1)
  await page.locator('header').getByRole('link', { name, exact: true }).click()
  await page.waitForURL(`**/${view}*`)
}

export function needle(page: Page) {
  return page.locator('[data-needle]')
}

export { expect, freePort, shortStory }

/** A field of the page by its name. */
export const field = (name: string) => `[data-field="${name}"]`

/** Adds to the row of a field, by keys: opens what can be added there, and picks it. */
export async function addTo(page: Page, name: string, item: string): Promise<void> {
  await page.locator(field(name)).focus()
  await page.keyboard.press('Alt+.')
  await page.locator(`[data-item="${item}"]`).click()
}

/** The rest of what can be added to a beat. */
export async function addToBeat(page: Page, beat: string, item: string): Promise<void> {
  await page.getByRole('button', { name: `More for ${beat}` }).click()
  await page.locator(`[data-item="${item}"]`).click()
}
