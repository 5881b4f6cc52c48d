import { readFileSync } from 'node:fs'
import { expect, openStory, settled, test } from './app'
import { quay } from '../quay'

const story = quay(
  [
    {
      id: 'here',
      lines: [{ text: 'The tide turns.' }],
      choices: [
        { id: 'go', text: 'Go on', to: 'quay.sand' },
        { id: 'rope', text: 'Take a rope', once: true, do: ['rope += 1'], to: 'quay.here' },
      ],
    },
    { id: 'sand', choices: [{ id: 'on', text: 'Further', to: 'quay.end' }] },
    { id: 'end', lines: [{ text: 'Dry feet.' }], ending: 'across' },
  ],
  { title: 'Seen by others', page: { playtests: 'ask' }, ledger: [{ id: 'rope', kind: 'item', max: 3 }] },
)

test('records of the playing page are dropped here, counted, walked, laid over the Atlas, and kept as routes', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, story)
  await settled(page)
  // two people play: one to the end, one not
  const record = async (presses: number) => {
    const player = await page.context().newPage()
    await player.goto(`${app.address}/story/${id}/play`)
    await player.evaluate(() => localStorage.clear())
    await player.reload()
    await player.getByLabel(/Keep a record/).check()
    await player.getByRole('button', { name: 'Begin' }).click()
    for (let press = 0; press < presses; press += 1) await player.keyboard.press('1')
    await player.getByRole('button', { name: 'Settings' }).click()
    const [download] = await Promise.all([
      player.waitForEvent('download'),
      player.getByRole('button', { name: 'Save the record' }).last().click(),
    ])
    const text = readFileSync(await download.path(), 'utf8')
    await player.close()
    return text
  }
  const whole = await record(2)
  const half = await record(1)
  await page.goto(`${app.address}/story/${id}/bearings`)
  await settled(page)
  await page.getByRole('tab', { name: 'Simulated players' }).click()
  const section = page.getByRole('region', { name: 'Playtests' })
  await expect(section).toContainText('None yet.')
  const file = (name: string, text: string) => ({ name, mimeType: 'application/json', buffer: Buffer.from(text) })
  await page
    .getByLabel('Records of playtests')
    .setInputFiles([file('Anna.playtest.json', whole), file('bad.json', '{"no":1}')])
  await expect(page.getByText('A playtest was added')).toBeVisible()
  await expect(page.getByText('“bad.json”: this is no record of a playtest')).toBeVisible()
  // dropped, and the same one twice
  const transfer = await page.evaluateHandle(
    ([one, two]) => {
      const data = new DataTransfer()
      data.items.add(new File([one!], 'Bela.playtest.json'))
      data.items.add(new File([two!], 'Anna again.json'))
      return data
    },
    [half, whole],
  )
  await section.dispatchEvent('drop', { dataTransfer: transfer })
  await expect(page.getByText('“Anna again.json” is there already.')).toBeVisible()
  await expect(section.getByRole('list', { name: 'Records' }).getByRole('listitem')).toHaveCount(2)
  await expect(section.getByRole('row', { name: /Across/ })).toContainText('50 %')
  await expect(section.getByRole('list', { name: 'Where they stopped' })).toContainText('Quay · sand: 1 of 2')
  await expect(section.getByRole('listitem').filter({ hasText: 'Bela' })).toContainText('stopped at Quay · sand')
  // there after a reload; walked; kept
  await page.reload()
  await page.getByRole('tab', { name: 'Simulated players' }).click()
  await section
    .getByRole('listitem')
    .filter({ hasText: 'Anna' })
    .getByRole('button', { name: 'Keep as a route' })
    .click()
  await expect
    .poll(async () => (await app.get<{ story: { routes?: object[] } }>(`/api/stories/${id}`)).story.routes)
    .toMatchObject([
      {
        name: 'Anna',
        decisions: [{ choice: 'quay.here.go' }, { choice: 'quay.sand.on' }],
        expect: { ending: 'across' },
      },
    ])
  await section.getByRole('listitem').filter({ hasText: 'Bela' }).getByRole('button', { name: 'Walk it' }).click()
  await expect(page).toHaveURL(/rehearse/)
  await expect(page.getByRole('button', { name: /Further/ })).toBeVisible()
  await page.goto(`${app.address}/story/${id}/atlas`)
  await settled(page)
  await page.getByLabel('Show', { exact: true }).selectOption('playtests')
  await expect(page.getByText('Of 2 recorded playtests some come by 3 of 3 beats')).toBeVisible()
  // after an edit a record says where it parts from the story
  await page.goto(`${app.address}/story/${id}/desk`)
  const { story: kept } = await app.get<{ story: { scenes: { beats: { choices?: object[] }[] }[] } }>(
    `/api/stories/${id}`,
  )
  const beat = kept.scenes[0]!.beats[0]!
  await page.evaluate(
    async ([address, item]) =>
      fetch(`${address as string}/changes`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({
          request: crypto.randomUUID(),
          change: { op: 'replace', in: { list: 'beats', scene: 'quay' }, id: 'here', at: 0, item },
        }),
      }),
    [
      `/api/stories/${id}`,
      { ...beat, choices: beat.choices!.map((choice, at) => (at === 0 ? { ...choice, when: 'rope >= 1' } : choice)) },
    ],
  )
  await page.goto(`${app.address}/story/${id}/bearings`)
  await page.getByRole('tab', { name: 'Simulated players' }).click()
  await expect(section).toContainText('2 records part from the story as it is now')
  await expect(section.getByRole('listitem').filter({ hasText: 'Bela' })).toContainText('parts at step 1')
  await section.getByRole('button', { name: 'Delete the playtest Bela' }).click()
  await expect(section.getByRole('list', { name: 'Records' }).getByRole('listitem')).toHaveCount(1)
})
