import { readFileSync } from 'node:fs'
import { expect, openStory, settled, test } from './app'
import { quay } from '../quay'

const story = quay(
  [
    {
      id: 'here',
      title: 'At the quay',
      lines: [{ id: 'l1', text: 'The tide.' }],
      choices: [{ id: 'go', text: 'Go', to: 'quay.end' }],
    },
    { id: 'end', title: 'Over', lines: [{ id: 'l2', text: 'Dry land.' }], ending: 'across' },
  ],
  { title: 'In and out' },
)
type Kept = {
  story: {
    scenes: {
      id: string
      title: string
      beats: { title?: string; notes?: string; lines?: { text: string }[]; choices?: { text: string; to: string }[] }[]
    }[]
  }
}

test('copies leave in every form, printed without anything of the interface; a route is played through', async ({
  page,
  app,
  context,
}) => {
  await openStory(page, app, story)
  await settled(page)
  await page.getByRole('link', { name: 'Export', exact: true }).click()
  const of = page.getByLabel('What is read')
  for (const [form, ending] of [
    ['docx', 'docx'],
    ['html', 'html'],
    ['markdown', 'md'],
    ['fountain', 'fountain'],
  ]) {
    await page.getByLabel('Form of the copy').selectOption(form!)
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Save the copy' }).click(),
    ])
    expect(download.suggestedFilename()).toBe(`In and out.${ending}`)
    expect(readFileSync(await download.path()).length).toBeGreaterThan(100)
  }
  await of.selectOption({ label: 'Across' })
  const [printed] = await Promise.all([
    context.waitForEvent('page'),
    page.getByRole('link', { name: 'Open it to print' }).click(),
  ])
  await expect(printed.getByText('the shortest way to Across')).toBeVisible()
  await expect(printed.locator('.took')).toHaveText('Go')
  await expect(printed.locator('.ending')).toHaveText('Across')
  await expect(printed.locator('button, nav, script')).toHaveCount(0)
  // its style is allowed where it is opened
  expect(await printed.locator('.took').evaluate((one) => getComputedStyle(one).fontStyle)).toBe('italic')
  expect((await printed.pdf({ preferCSSPageSize: true })).subarray(0, 5).toString()).toBe('%PDF-')
})

test('a text that was written elsewhere is shown as it is understood, goes in as one step, and comes out again', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, story)
  await settled(page)
  await page.getByRole('link', { name: 'Export', exact: true }).click()
  const give = (name: string, text: string) =>
    page.getByLabel('A text to take in').setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) })
  await give('notes.odt', 'x')
  await expect(page.getByText('“notes.odt” could not be read: a manuscript comes as')).toBeVisible()
  await give('cut.docx', 'PK')
  await expect(page.getByText('“cut.docx” could not be read: this DOCX file is damaged')).toBeVisible()
  await give(
    'mill.md',
    '# The mill\n\n## Door\n\nTamsin: Who is there?\n\n- [A friend](#yard)\n- [To the quay](#at-the-quay)\n\n> rain\n\n## Yard\n\nMud.\n\n# The ford\n\nCold.\n',
  )
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('3 lines · 2 choices · 2 new scenes · 2 new beats · 1 new speaker: Tamsin')
  await dialog.getByRole('button', { name: 'Take it in' }).click()
  const scenes = async () => (await app.get<Kept>(`/api/stories/${id}`)).story.scenes
  await expect.poll(async () => (await scenes()).map(({ title }) => title)).toEqual(['Quay', 'The mill', 'The ford'])
  const [, mill] = await scenes()
  expect(mill!.beats.map(({ title }) => title)).toEqual(['Door', 'Yard'])
  expect(mill!.beats[0]).toMatchObject({ notes: 'rain', choices: [{ to: 'the_mill.yard' }, { to: 'quay.here' }] })
  await page.keyboard.press('Control+z')
  await expect.poll(async () => (await scenes()).length).toBe(1)
})

test('a story begins with a file of another program', async ({ page, app }) => {
  await page.goto(app.address)
  await page.getByRole('button', { name: 'From a script…' }).click()
  await page.getByLabel('A file to begin with').setInputFiles({
    name: 'ford.fountain',
    mimeType: 'text/plain',
    buffer: Buffer.from('Title: The ford\n\n# Bank\n\n.Morning\n\nASKE\n(low)\nWait.\n\n!- Wait [[to: Morning]]\n'),
  })
  await expect(page.getByRole('dialog')).toContainText('“ford.fountain” is understood so')
  await page.getByRole('button', { name: 'Begin “The ford”' }).click()
  await expect(page).toHaveURL(/\/desk/)
  await settled(page)
  const id = /story\/([^/]+)/.exec(page.url())![1]!
  const { story: made } = await app.get<Kept>(`/api/stories/${id}`)
  expect(made.scenes).toMatchObject([
    {
      title: 'Bank',
      beats: [
        {
          title: 'Morning',
          lines: [{ text: 'low' }, { text: 'Wait.' }],
          choices: [{ text: 'Wait', to: 'opening.first' }],
        },
      ],
    },
  ])
})

test('a pasted page keeps its headings and lists, on the Desk and in the library', async ({ page, app }) => {
  const html =
    '<h2>Door</h2><p><b>Tamsin:</b> Who is there?</p><ul><li>A friend → Yard</li></ul><h2>Yard</h2><p>Mud.</p>'
  const text = 'Door\nTamsin: Who is there?\nA friend → Yard\nYard\nMud.'
  const paste = () =>
    page.evaluate(
      ([marked, plain]) => {
        const clipboardData = new DataTransfer()
        clipboardData.setData('text/html', marked!)
        clipboardData.setData('text/plain', plain!)
        document.activeElement!.dispatchEvent(
          new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }),
        )
      },
      [html, text],
    )
  const id = await openStory(page, app, { ...story, title: 'Pasted' })
  await settled(page)
  await page.getByText('The tide.').first().click()
  await paste()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('2 lines · 1 choice · 2 new beats · 1 new speaker: Tamsin')
  await dialog.getByRole('button', { name: 'Put it in' }).click()
  const beats = async () => (await app.get<Kept>(`/api/stories/${id}`)).story.scenes[0]!.beats
  await expect
    .poll(async () => (await beats()).map(({ title }) => title))
    .toEqual(['At the quay', 'Door', 'Yard', 'Over'])
  expect((await beats())[1]!.choices).toMatchObject([{ text: 'A friend', to: 'quay.yard' }])
  await page.goto(app.address)
  await page.getByRole('button', { name: 'From a script…' }).click()
  await expect(page.getByLabel('The script')).toBeFocused()
  await paste()
  await expect(dialog).toContainText('“what was pasted” is understood so')
  await expect(dialog).toContainText('1 choice · 2 new beats')
})
