import { type App, expect, needle, settled, test, turnTo } from './app'
import type { Page } from '@playwright/test'

const VIEWS = ['desk', 'quests', 'ledger', 'rehearse', 'bearings', 'atlas', 'languages', 'export', 'history'] as const

/** What lies outside of the window or over something else, told by what it reads. */
async function troubles(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const found: string[] = []
    const name = (element: Element) =>
      `${element.tagName} ${element.className} “${(element.textContent ?? '').trim().slice(0, 40)}”`
    if (document.documentElement.scrollWidth > window.innerWidth + 1)
      found.push(`the page is ${document.documentElement.scrollWidth} wide`)
    const isShown = (element: Element) =>
      element.checkVisibility({ opacityProperty: true, visibilityProperty: true, contentVisibilityAuto: true })
    /** What of an element can be seen: what scrolls cuts it off. */
    const seen = (element: Element) => {
      let { left, right, top, bottom } = element.getBoundingClientRect()
      for (let up = element.parentElement; up !== null; up = up.parentElement) {
        const { overflowX, overflowY } = getComputedStyle(up)
        if (overflowX === 'visible' && overflowY === 'visible') continue
        const box = up.getBoundingClientRect()
        ;[left, right] = [Math.max(left, box.left), Math.min(right, box.right)]
        ;[top, bottom] = [Math.max(top, box.top), Math.min(bottom, box.bottom)]
      }
      return { left, right, top, bottom }
    }
    // nothing is cut off at the sides: whatever can be pressed or written in lies within, or in what scrolls sideways
    const things = [...document.querySelectorAll('button, a, select, input, textarea')].filter(
      (element) => isShown(element) && !element.matches('.skip') && element.closest('[aria-hidden=true]') === null,
    )
    for (const element of things) {
      const box = element.getBoundingClientRect()
      if (box.width === 0 || box.height === 0) continue
      let scrolls = false
      for (let up = element.parentElement; up !== null; up = up.parentElement)
        if (['auto', 'scroll'].includes(getComputedStyle(up).overflowX) && up.scrollWidth > up.clientWidth)
          scrolls = true
      if (!scrolls && (box.left < -1 || box.right > window.innerWidth + 1))
        found.push(`outside: ${name(element)} ${Math.round(box.left)}…${Math.round(box.right)}`)
    }
    // no two of them lie over each other
    const boxes = things
      .map((element) => ({ element, box: seen(element) }))
      .filter(
        ({ box }) => box.right > box.left && box.bottom > box.top && box.bottom > 0 && box.top < window.innerHeight,
      )
    for (const [at, one] of boxes.entries())
      for (const other of boxes.slice(at + 1)) {
        if (one.element.contains(other.element) || other.element.contains(one.element)) continue
        const across = Math.min(one.box.right, other.box.right) - Math.max(one.box.left, other.box.left)
        const down = Math.min(one.box.bottom, other.box.bottom) - Math.max(one.box.top, other.box.top)
        if (across > 3 && down > 3) {
          // where they lie over each other, is the one seen through the other?
          const x = Math.max(one.box.left, other.box.left) + across / 2
          const y = Math.max(one.box.top, other.box.top) + down / 2
          const top = document.elementFromPoint(x, y)
          if (top !== null && (one.element.contains(top) || other.element.contains(top)))
            found.push(`over each other: ${name(one.element)} and ${name(other.element)}`)
        }
      }
    return found.slice(0, 8)
  })
}

async function open(page: Page, app: App, id: string, view: (typeof VIEWS)[number]): Promise<void> {
  await page.goto(`${app.address}/story/${id}/${view}`)
  await shown(page, view)
}

async function shown(page: Page, view: (typeof VIEWS)[number]): Promise<void> {
  if (view === 'history') await expect(page.getByRole('heading', { name: 'Versions' })).toBeVisible()
  else await settled(page)
}

const SIZES = [
  [1920, 1080],
  [1280, 800],
  [1024, 768],
  [900, 700],
  [640, 720],
] as const

test('in windows of any size nothing is cut off or covered on any view', async ({ page, app }) => {
  await page.setViewportSize({ width: 1920, height: 1080 })
  await open(page, app, await app.idOf('The Causeway at Hollin Reach'), 'desk')
  for (const view of VIEWS) {
    await page.setViewportSize({ width: 1920, height: 1080 })
    await turnTo(page, view)
    await shown(page, view)
    // the window is made smaller, as a hand does, and larger again
    for (const [width, height] of [...SIZES, SIZES[1]]) {
      await page.setViewportSize({ width, height })
      await page.waitForTimeout(300)
      expect.soft({ view, width, troubles: await troubles(page) }).toEqual({ view, width, troubles: [] })
    }
  }
})

for (const [width, height] of SIZES)
  test(`opened at ${width} pixels the Desk has room for its lines, and for what stands beside them`, async ({
    page,
    app,
  }) => {
    await page.setViewportSize({ width, height })
    const id = await app.idOf('The Causeway at Hollin Reach')
    await open(page, app, id, 'desk')
    await page.waitForTimeout(300)
    expect.soft(await troubles(page)).toEqual([])
    // a line keeps room for at least 30 letters
    const letters = await page.evaluate(() => {
      const line = document.querySelector<HTMLElement>('.line .draft')!
      const context = document.createElement('canvas').getContext('2d')!
      context.font = getComputedStyle(line).font
      return line.clientWidth / context.measureText('n').width
    })
    expect(letters).toBeGreaterThan(30)
    // and everything that stands beside it can be opened and closed, by key and by mouse
    for (const [keys, name] of [
      ['Alt+Shift+L', 'the outline'],
      ['Alt+Shift+R', 'the bearing'],
    ] as const) {
      const side = page.locator(keys === 'Alt+Shift+L' ? '[data-column=start]' : '[data-column=end]')
      const wasOpen = await side.isVisible()
      await page.keyboard.press(keys)
      await expect(side).toBeVisible({ visible: !wasOpen })
      await page.getByRole('button', { name: `${wasOpen ? 'Open' : 'Close'} ${name}` }).click()
      await expect(side).toBeVisible({ visible: wasOpen })
    }
    await expect(needle(page)).toContainText('13 of 13')
  })

test('columns are made narrower by key, and wider by dragging, and stay so; a wide window has room for the rehearsal', async ({
  page,
  app,
}) => {
  await page.setViewportSize({ width: 1920, height: 1080 })
  const id = await app.idOf('The Causeway at Hollin Reach')
  await open(page, app, id, 'desk')
  const outline = page.locator('[data-column=start]')
  const before = (await outline.boundingBox())!.width
  await page.getByRole('separator', { name: 'Width of the outline' }).focus()
  for (let press = 0; press < 3; press += 1) await page.keyboard.press('ArrowLeft')
  const narrow = (await outline.boundingBox())!.width
  expect(narrow).toBeLessThan(before - 30)
  // and by dragging
  const edge = (await page.getByRole('separator', { name: 'Width of the outline' }).boundingBox())!
  await page.mouse.move(edge.x + edge.width / 2, edge.y + 300)
  await page.mouse.down()
  for (const by of [20, 45, 70]) await page.mouse.move(edge.x + edge.width / 2 + by, edge.y + 300)
  await page.mouse.up()
  await page.mouse.move(600, 300)
  const after = (await outline.boundingBox())!.width
  expect(Math.abs(after - narrow - 70)).toBeLessThan(2)
  await page.getByRole('button', { name: 'Rehearse beside it' }).click()
  const beside = page.locator('[data-beside]')
  await expect(beside).toContainText('A new playthrough')
  await page.reload()
  await settled(page)
  await expect(beside).toContainText('A new playthrough')
  expect(Math.abs((await outline.boundingBox())!.width - after)).toBeLessThan(2)
  expect({ troubles: await troubles(page) }).toEqual({ troubles: [] })
  await page.getByRole('button', { name: 'Close the rehearsal' }).click()
  await expect(beside).toBeHidden()
})
