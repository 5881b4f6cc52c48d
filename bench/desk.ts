import type { Page } from '@playwright/test'
import type { Story } from '../src/core/story/types'
import { framesDuring, inBrowser, percentiles } from './in-browser'
import { ordinary, production } from './stories/families'

/** Prints what writing costs on the Desk, on a generated story in Chromium. Run with `npm run bench -- desk`. */

const BEATS = 10_000
const KEYS = 120
const WHEELS = 120
const GATES = 20
const ROUNDS = 12

/** Has the page note how long it is from each keystroke to the picture after it. */
async function watchKeys(page: Page): Promise<void> {
  await page.evaluate(() => {
    const painted: number[] = []
    ;(window as unknown as { painted: number[] }).painted = painted
    window.addEventListener(
      'keydown',
      () => {
        const pressed = performance.now()
        requestAnimationFrame(() => {
          const channel = new MessageChannel()
          channel.port1.onmessage = () => painted.push(performance.now() - pressed)
          channel.port2.postMessage(0)
        })
      },
      { capture: true },
    )
  })
}

const paintedIn = (page: Page) => page.evaluate(() => (window as unknown as { painted: number[] }).painted.splice(0))

async function typing(page: Page, field: string): Promise<number[]> {
  await page.locator(`[data-field="${field}"]`).focus()
  await paintedIn(page)
  // with pauses, so that edits are made and surveyed in between
  for (let at = 0; at < KEYS; at += 1)
    await page.keyboard.press(at % 7 === 6 ? 'Space' : 'KeyA', { delay: at % 20 === 19 ? 600 : 40 })
  await page.waitForTimeout(300)
  return paintedIn(page)
}

/** From Enter on a gate written anew to the picture after it. */
async function gating(page: Page): Promise<number[]> {
  const took: number[] = []
  const field = page.locator('[data-field$="?when"]').first()
  for (let round = 0; round < GATES; round += 1) {
    const name = await field.getAttribute('data-field')
    await field.click()
    const edit = page.locator(`[data-field="${name}:edit"]`)
    const gate = (await edit.textContent()) ?? ''
    await edit.fill(gate.startsWith('!') ? gate.slice(2, -1) : `!(${gate})`)
    await paintedIn(page)
    await edit.press('Enter')
    await page.waitForSelector('[data-needle=settled]')
    await page.waitForTimeout(400)
    took.push(...(await paintedIn(page)))
  }
  return took
}

/** Edits of a beat whose choices have gates, in that order. */
const EDITS = ['gate', 'line', 'road', 'choice', 'beat'] as const
type Edits = Readonly<Record<(typeof EDITS)[number], number[]>>

/** What the page's worker takes for a story, and after edits, each heard when the last was answered and taken back afterwards; with nothing else to do. */
async function worker(page: Page, story: Story): Promise<{ readonly first: number; readonly edits: Edits }> {
  return page.evaluate(
    async ({ story, rounds, kinds }) => {
      const [url, options] = (window as unknown as { surveyWorker: [string | URL, WorkerOptions] }).surveyWorker
      const one = new Worker(url, options)
      const answer = (message: object) =>
        new Promise<number>((done, fail) => {
          const start = performance.now()
          one.onmessage = ({ data }: MessageEvent<{ type: string; message?: string }>) => {
            if (data.type === 'report' || data.type === 'unchanged') done(performance.now() - start)
            if (data.type === 'failed') fail(new Error(data.message))
          }
          one.postMessage(message)
        })
      // until it has been loaded and has warmed up, as it does while the library or the page is drawn
      await new Promise((ready) => setTimeout(ready, 1500))
      const first = await answer({ type: 'open', story: JSON.stringify(story), version: 1 })
      const gated = story.scenes.flatMap(({ id, beats }) =>
        beats.flatMap((beat, at) =>
          beat.choices?.some(({ when }) => when !== undefined) ? [{ scene: id, beat, at }] : [],
        ),
      )
      const edits: Edits = { gate: [], line: [], road: [], choice: [], beat: [] }
      let version = 1
      const change = (edit: object) => answer({ type: 'change', version: (version += 1), change: edit })
      for (const kind of kinds)
        for (let round = 0; round < rounds; round += 1) {
          const { scene, beat, at } = gated[(round * 7919) % gated.length]!
          const list = { list: 'beats', scene }
          const choices = beat.choices!
          const put = (item: object) => ({ op: 'replace', in: list, at, id: beat.id, item })
          const to = `${scene}.${beat.id}`
          const more = { id: 'more', text: 'More', to }
          const made = {
            gate: put({
              ...beat,
              choices: choices.map((one) => (one.when === undefined ? one : { ...one, when: `!(${one.when})` })),
            }),
            line: put({ ...beat, lines: [...(beat.lines ?? []), { text: 'More.' }] }),
            road: put({ ...beat, choices: choices.map((one, place) => (place === 0 ? { ...one, to } : one)) }),
            choice: put({ ...beat, choices: [...choices, more] }),
            beat: { op: 'insert', in: list, at: at + 1, item: { id: 'more', choices: [more] } },
          }
          edits[kind].push(await change(made[kind]))
          await change(kind === 'beat' ? { op: 'remove', in: list, at: at + 1, id: 'more' } : put(beat))
          await new Promise((ready) => setTimeout(ready, 100))
        }
      one.terminate()
      return { first, edits }
    },
    { story, rounds: ROUNDS, kinds: EDITS },
  )
}

/** From frame to frame while the manuscript is scrolled. */
async function scrolling(page: Page, box = '[data-manuscript]'): Promise<number[]> {
  await page.locator(box).hover()
  return framesDuring(page, async () => {
    for (let at = 0; at < WHEELS; at += 1) await page.mouse.wheel(0, at < WHEELS / 2 ? 180 : -180)
  })
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
  console.log(
    `  Quests drawn after ${await open('Quests', '[data-track-stage]')}, call sheet ${await later('[data-call-sheet=fresh]')}, moves ${await later('[data-track-kind=made]')}`,
  )
  console.log(`    frame while scrolling  ${percentiles(await scrolling(page, '[data-quest]'))}`)
  console.log(
    `  Ledger drawn after ${await open('Ledger', '[data-ledger]')}, values ${await later('[data-taken]:not([data-taken=""])')}`,
  )
  console.log(`    frame while scrolling  ${percentiles(await scrolling(page, 'main'))}`)
  console.log(`  Bearings drawn after ${await open('Bearings', '[data-reach]')}`)
  console.log(`  Rehearse drawn after ${await open('Rehearse', '[data-here]')}`)
}

await inBrowser(async ({ page, address, add }) => {
  // a page that has nothing else to do
  const { cards } = (await (await fetch(`${address}/api/stories`)).json()) as { cards: { id: string }[] }
  await page.goto(`${address}/story/${cards[0]!.id}/desk`)
  await page.waitForSelector('[data-needle=settled]')
  await page.waitForTimeout(3000)
  for (const [name, story] of [
    ...[500, 2000, BEATS].map((beats) => [`ordinary story of ${beats} beats`, ordinary(beats)] as const),
    [`production of ${BEATS} beats`, production(BEATS)] as const,
  ]) {
    const { first, edits } = await worker(page, story)
    console.log(`worker alone and warmed up, ${name}: first ${first.toFixed(0)} ms`)
    for (const kind of EDITS) console.log(`  after an edit of a ${kind.padEnd(8)} ${percentiles(edits[kind])}`)
  }
  for (const [name, story] of [
    [`${BEATS} beats in scenes of 25`, ordinary(BEATS)],
    [`${BEATS} beats in scenes of 300`, ordinary(BEATS, 1, 300)],
    [`${BEATS} beats, 60 quests of 5 stages, 300 entries, 150 people`, production(BEATS)],
  ] as const) {
    const id = await add(story)
    const start = performance.now()
    await page.goto(`${address}/story/${id}/desk`)
    await page.waitForSelector('section.beat')
    const drawn = performance.now()
    await page.waitForSelector('[data-needle=settled]', { timeout: 120_000 })
    console.log(
      `${name}: drawn after ${(drawn - start).toFixed(0)} ms, surveyed after ${(performance.now() - start).toFixed(0)} ms`,
    )
    await watchKeys(page)
    console.log(`  keystroke to picture   ${percentiles(await typing(page, 's0.start#line1'))}`)
    console.log(`  gate to picture        ${percentiles(await gating(page))}`)
    await page.waitForSelector('[data-saving=saved]', { timeout: 60_000 })
    console.log(`  frame while scrolling  ${percentiles(await scrolling(page))}`)
    if (story.cast!.length > 1) await views(page)
  }
})
