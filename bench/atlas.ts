import type { Page } from '@playwright/test'
import { chartOf } from '../src/core/atlas/chart'
import { pictureOf } from '../src/core/atlas/picture'
import { linkStory } from '../src/core/story/link'
import { framesDuring, inBrowser, percentiles } from './in-browser'
import { ordinary, production } from './stories/families'

/** Prints what the chart of a large story costs: to lay out, to draw first, to move and to scale. Run with `npm run bench -- atlas`. */

const BEATS = 10_000
const ROUNDS = 7
const STEPS = 90

const CHART = '[data-atlas] canvas'

async function panning(page: Page): Promise<number[]> {
  const box = (await page.locator(CHART).boundingBox())!
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
  return framesDuring(page, async () => {
    await page.mouse.move(x, y)
    await page.mouse.down()
    for (let at = 0; at < STEPS; at += 1) await page.mouse.move(x + 180 * Math.sin(at / 9), y + 120 * Math.cos(at / 7))
    await page.mouse.up()
  })
}

async function scaling(page: Page): Promise<number[]> {
  const box = (await page.locator(CHART).boundingBox())!
  await page.mouse.move(box.x + box.width / 3, box.y + box.height / 3)
  return framesDuring(page, async () => {
    for (let at = 0; at < STEPS; at += 1) await page.mouse.wheel(0, at < STEPS / 2 ? -40 : 40)
  })
}

const under20 = (frames: readonly number[]) =>
  `${((100 * frames.filter((one) => one < 20).length) / frames.length).toFixed(0)} of 100 under 20 ms`

await inBrowser(async ({ page, address, add }) => {
  for (const [name, story] of [
    [`${BEATS} beats in scenes of 25`, ordinary(BEATS)],
    [`${BEATS} beats in scenes of 300`, ordinary(BEATS, 1, 300)],
    [`a production of ${BEATS} beats`, production(BEATS)],
  ] as const) {
    const linked = linkStory(story)
    const [layouts, pictures]: [number[], number[]] = [[], []]
    let roads = 0
    for (let round = 0; round < ROUNDS; round += 1) {
      const start = performance.now()
      const chart = chartOf(linked)
      layouts.push(performance.now() - start)
      roads = chart.roads.count
      const laid = performance.now()
      pictureOf(chart, () => true)
      pictures.push(performance.now() - laid)
    }
    console.log(`${name}, ${roads} roads`)
    console.log(`  laid out               ${percentiles(layouts)}`)
    console.log(`  bands put in place     ${percentiles(pictures)}`)
    const id = await add(story)
    await page.goto(`${address}/story/${id}/desk`)
    await page.waitForSelector('[data-needle=settled]', { timeout: 120_000 })
    await page.waitForTimeout(3000)
    const start = performance.now()
    await page.getByRole('link', { name: 'Atlas', exact: true }).click()
    await page.waitForSelector(`${CHART}[data-drawn]`, { timeout: 60_000 })
    console.log(`  drawn after            ${(performance.now() - start).toFixed(0)} ms`)
    await page.waitForTimeout(4000)
    const chart = page.locator(CHART)
    const report = async (how: string) => {
      const [moved, scaled] = [await panning(page), await scaling(page)]
      console.log(`  ${how}`)
      console.log(`    frame while moving   ${percentiles(moved)}   ${under20(moved)}`)
      console.log(`    frame while scaling  ${percentiles(scaled)}   ${under20(scaled)}`)
    }
    const nearer = async (times: number) => {
      await chart.focus()
      for (let at = 0; at < times; at += 1) await page.keyboard.press('+')
      await page.waitForTimeout(300)
    }
    await report('the whole story, bands closed')
    await page.getByRole('button', { name: 'Open all' }).click()
    await page.waitForTimeout(1000)
    await report('bands open, from afar')
    await nearer(5)
    await report('nearer')
    await nearer(3)
    await report('titles and choices')
  }
})
