import { randomUUID } from 'node:crypto'
import { request as httpRequest } from 'node:http'
import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { test as plain } from '@playwright/test'
import { STORY_FILE_BYTES } from '../../src/core/base/limits'
import { App, expect, freePort, needle, openStory, settled, test } from './app'

test('what was shown as saved is there after a kill in the middle of edits', async ({ browser }) => {
  const folder = await mkdtemp(join(tmpdir(), 'paper-compass-kill-'))
  const own = new App(folder, await freePort())
  expect((await own.start()).ready).toBe(true)
  const page = await browser.newPage()
  await page.goto(`${own.address}/story/${await own.idOf('The Causeway at Hollin Reach')}/desk`)
  await settled(page)
  let shown = ''
  for (let round = 1; round <= 3; round += 1) {
    const line = page.locator('[data-field="quay.log#line1"]')
    await line.fill(`Saved in round ${round}.`)
    await settled(page)
    shown = await line.inputValue()
    // more edits on their way while the process is killed
    await line.fill(`Perhaps in round ${round}.`)
    await own.stop('SIGKILL')
    expect((await own.start()).ready).toBe(true)
    const opened = await own.get<{ story: { scenes: { beats: { lines: { text: string }[] }[] }[] } }>(
      `/api/stories/${await own.idOf('The Causeway at Hollin Reach')}`,
    )
    expect([shown, `Perhaps in round ${round}.`]).toContain(opened.story.scenes[0]!.beats[0]!.lines[0]!.text)
    // the page was not reloaded: it sends what it still had
    await settled(page)
    const later = await own.get<{ story: { scenes: { beats: { lines: { text: string }[] }[] }[] } }>(
      `/api/stories/${await own.idOf('The Causeway at Hollin Reach')}`,
    )
    expect(later.story.scenes[0]!.beats[0]!.lines[0]!.text).toBe(`Perhaps in round ${round}.`)
  }
  await page.close()
  expect(await own.stop('SIGTERM')).toBe(0)
  await rm(folder, { recursive: true, force: true })
})

test('a second process on the same data folder is refused and leaves the data alone', async ({ app }) => {
  const second = new App(app.folder, await freePort())
  expect((await second.start()).ready).toBe(false)
  expect(second.output).toContain('in use by another process')
  expect(await app.count()).toBeGreaterThan(0)
})

plain('Ctrl+C stops it cleanly, and a port that is taken is said', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'paper-compass-stop-'))
  const first = new App(folder, await freePort())
  expect((await first.start()).ready).toBe(true)
  const other = new App(await mkdtemp(join(tmpdir(), 'paper-compass-port-')), first.port)
  expect((await other.start()).ready).toBe(false)
  expect(other.output).toContain(`port ${first.port} is taken`)
  expect(await first.stop('SIGINT')).toBe(0)
  expect((await first.start()).ready).toBe(true)
  expect(await first.stop('SIGTERM')).toBe(0)
  await rm(folder, { recursive: true, force: true })
  await rm(other.folder, { recursive: true, force: true })
})

/** A request with headers that fetch would not let one set. */
function ask(
  app: App,
  path: string,
  headers: Record<string, string>,
  method = 'GET',
): Promise<{ status: number; headers: Record<string, unknown> }> {
  return new Promise((done, fail) => {
    const sent = httpRequest({ host: '127.0.0.1', port: app.port, path, method, headers }, (answer) => {
      answer.resume()
      answer.on('end', () => done({ status: answer.statusCode!, headers: answer.headers }))
    })
    sent.on('error', fail)
    sent.end()
  })
}

test('a foreign Host or Origin is refused, and answers carry a strict policy', async ({ app }) => {
  const own = `127.0.0.1:${app.port}`
  expect((await ask(app, '/', { host: 'evil.example' })).status).toBe(403)
  expect((await ask(app, '/_next/static/none.js', { host: 'evil.example' })).status).toBe(403)
  expect((await ask(app, '/api/stories', { host: own, origin: 'http://evil.example' }, 'POST')).status).toBe(403)
  expect((await ask(app, '/api/stories', { host: own, origin: 'null' }, 'POST')).status).toBe(403)
  expect((await ask(app, '/', { host: own, origin: `http://${own}` })).status).toBe(200)
  const { headers } = await ask(app, '/', { host: own })
  const policy = String(headers['content-security-policy'])
  expect(policy).toContain("default-src 'none'")
  expect(policy).toMatch(/script-src 'self' 'nonce-[^']+'(;|$)/)
  expect(policy).not.toContain('unsafe-eval')
  // only the survey's worker may write code, and that as WebAssembly
  const worker = await ask(app, '/', { host: own, 'sec-fetch-dest': 'worker' })
  expect(String(worker.headers['content-security-policy'])).toContain("'wasm-unsafe-eval'")
  expect(String(worker.headers['content-security-policy'])).not.toContain("'unsafe-eval'")
})

test('what nobody sends by accident is refused, with a status and a sentence and no harm done', async ({ app }) => {
  const id = await app.idOf('The Causeway at Hollin Reach')
  const own = `127.0.0.1:${app.port}`
  const status = async (path: string, method = 'GET', headers: Record<string, string> = {}) =>
    (await ask(app, path, { host: own, ...headers }, method)).status
  for (const path of [
    '/api/stories/none',
    '/api/stories/..%2f',
    `/api/stories/${id.toUpperCase()}x`,
    `/api/stories/${id}/at/x`,
  ])
    expect({ path, status: await status(path) }).toEqual({ path, status: 404 })
  for (const path of ['/api/stories?q=%00', `/api/stories/${id}/history?before=x`, '/api/stories?from=x'])
    expect({ path, status: await status(path) }).toEqual({ path, status: 400 })
  expect(await status(`/api/stories/${id}/undo`, 'POST', { 'content-type': 'text/plain' })).toBe(415)
  expect(await status('/api/stories', 'POST', { 'content-type': 'application/x-www-form-urlencoded' })).toBe(415)
  expect(
    await status('/api/stories', 'POST', { 'content-type': 'application/json', 'sec-fetch-site': 'cross-site' }),
  ).toBe(403)
  expect(await status('/', 'POST', { 'next-action': 'x' })).toBe(405)
  expect(await status('/', 'TRACE')).toBe(405)
  expect(await status('/_next/image?url=%2Ficon.svg&w=64&q=75')).toBe(404)
  const wrong = await fetch(`${app.address}/api/stories`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ title: 'T', language: '!!' }),
  })
  expect([wrong.status, await wrong.json()]).toEqual([400, { message: expect.stringContaining('language tag') }])
  // a connection that wants to become something else is refused, but for games and windows on the live line
  const upgraded = (path: string, host: string) =>
    new Promise<string>((done) => {
      const key = { 'sec-websocket-key': 'dGhlIHNhbXBsZSBub25jZQ==', 'sec-websocket-version': '13' }
      const sent = httpRequest({
        host: '127.0.0.1',
        port: app.port,
        path,
        headers: { host, connection: 'upgrade', upgrade: 'websocket', ...key },
      })
      sent.on('error', () => done('closed'))
      sent.on('upgrade', (_, socket) => {
        socket.destroy()
        done('upgraded')
      })
      sent.on('response', ({ statusCode }) => done(`refused with ${statusCode}`))
      sent.end()
    })
  expect(await upgraded('/', own)).toBe('refused with 404')
  expect(await upgraded('/api/stories', own)).toBe('refused with 404')
  expect(await upgraded('/live', 'elsewhere.example')).toBe('refused with 403')
  expect(await upgraded('/live', own)).toBe('upgraded')
})

test('what is no story is refused with the place and the reason, and nothing is lost', async ({ page, app }, info) => {
  await page.goto(app.address)
  const count = await app.count()
  const give = (name: string, text: string) =>
    page.getByLabel('Story file').setInputFiles({ name, mimeType: 'application/json', buffer: Buffer.from(text) })
  const said = page.getByRole('status')

  await give('poem.json', 'Once upon a time')
  await expect(said).toContainText('“poem.json” could not be imported')
  await expect(said).toContainText('not JSON')

  const story = {
    paperCompass: 1,
    title: 'Wrong',
    language: 'en',
    start: '',
    scenes: [{ id: 'quay', title: 'Quay', beats: [{ id: 'here', choices: [{ id: 'go', text: 'Go', to: 5 }] }] }],
  }
  await give('wrong.json', JSON.stringify(story))
  await expect(said).toContainText('scenes[0].beats[0].choices[0].to (quay.here.go)')

  // by its path: handed over piece by piece it would keep the browser busy for a minute
  const huge = info.outputPath('huge.json')
  const tooMuch = Buffer.alloc(STORY_FILE_BYTES + 1, 'x')
  await writeFile(huge, tooMuch)
  await page.getByLabel('Story file').setInputFiles(huge)
  await expect(said).toContainText('too large')
  // nor by a program that asks the server itself
  const sent = await fetch(`${app.address}/api/stories`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: tooMuch,
  })
  expect(sent.status).toBe(413)
  expect(await app.count()).toBe(count)

  // Missing references and wrong types are problems, not refusals.
  const draft = {
    ...story,
    title: 'Half finished',
    start: 'quay.gone',
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [{ id: 'here', choices: [{ id: 'go', text: 'Go', when: 'tide > true', to: 'quay.nowhere' }] }],
      },
    ],
  }
  await give('half.json', JSON.stringify(draft))
  await page.waitForURL(/\/desk/)
  await settled(page)
  await page.getByRole('link', { name: 'Bearings' }).click()
  await expect(page.locator('[data-finding="problem"][data-key="story start"]')).toBeVisible()
  await expect(page.locator('[data-finding="problem"][data-key="quay.here.go when"]')).toContainText(
    'there is no ledger entry "tide"',
  )
  await expect(page.locator('[data-finding="problem"][data-key="quay.here.go to"]')).toBeVisible()
})

test('an address without a story says so and leads back', async ({ page, app }) => {
  for (const id of ['nonsense', randomUUID()]) {
    const answer = await page.goto(`${app.address}/story/${id}/desk`)
    expect(answer!.status()).toBe(404)
    await expect(page.getByRole('heading', { name: 'There is no story at this address' })).toBeVisible()
  }
  await page.getByRole('link', { name: 'To the library' }).click()
  await expect(page.getByRole('heading', { name: 'Stories' })).toBeVisible()
})

test('the library duplicates, exports, deletes and brings back', async ({ page, app }) => {
  await page.goto(app.address)
  // the stories of other tests may have pushed it off the first page
  await page.getByLabel('Search the titles').fill('First draft of Hollin Reach')
  await page.getByRole('button', { name: 'Duplicate First draft of Hollin Reach', exact: true }).click()
  const copy = page.getByRole('link', { name: 'First draft of Hollin Reach (copy)', exact: true })
  await expect(copy).toBeVisible()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export First draft of Hollin Reach (copy)' }).click(),
  ])
  expect(download.suggestedFilename()).toBe('First draft of Hollin Reach (copy).story.json')
  await page.getByRole('button', { name: 'Delete First draft of Hollin Reach (copy)' }).click()
  await expect(copy).toBeHidden()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(copy).toBeVisible()
  await page.reload()
  await expect(copy).toBeVisible()
})

test('the worker of a closed story surveys the next one, and says nothing of the last', async ({ page, app }) => {
  const stories = ['One', 'Other'].map((title, at) => ({
    paperCompass: 1,
    title,
    language: 'en',
    start: 'quay.here',
    endings: [{ id: 'end', name: `The end of ${title}` }],
    // the same addresses, and other verdicts
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          { id: 'here', choices: [{ id: 'on', text: 'On', to: 'quay.there', ...(at === 0 ? {} : { when: 'false' }) }] },
          { id: 'there', ending: 'end' },
        ],
      },
    ],
  }))
  const ids: string[] = []
  for (const story of stories) ids.push(await openStory(page, app, story))
  let workers = 0
  page.on('worker', () => (workers += 1))
  await page.goto(`${app.address}/`)
  for (const round of [0, 1, 0, 1]) {
    await page.getByRole('link', { name: stories[round]!.title, exact: true }).click()
    await expect(page).toHaveURL(new RegExp(ids[round]!))
    await settled(page)
    await expect(needle(page)).toContainText(round === 0 ? '1 of 1 endings' : '0 of 1 endings')
    await expect(page.getByRole('complementary', { name: 'Bearing of this beat' })).toContainText(
      `The end of ${stories[round]!.title}`,
    )
    await page.goBack()
    await expect(page.getByRole('link', { name: 'Other', exact: true })).toBeVisible()
  }
  expect(workers).toBe(1)
})
