import { readFileSync } from 'node:fs'
import ExcelJS from 'exceljs'
import { expect, openStory, settled, test } from './app'
import { quay } from '../quay'

const story = quay(
  [
    {
      id: 'here',
      lines: [{ text: 'The tide turns.' }, { id: 'coils', text: '{rope, plural, one {# coil} other {# coils}}' }],
      choices: [{ id: 'go', text: 'Go on', to: 'quay.end' }],
    },
    { id: 'end', ending: 'across' },
  ],
  { title: 'In two tongues', ledger: [{ id: 'rope', kind: 'item', max: 3 }] },
)
type Kept = {
  story: {
    recordings?: { id: string }[]
    terms?: { id: string; name: string; notes?: string }[]
    textLimit?: number
    languages?: Record<string, { texts: Record<string, { text: string; of?: string; state?: string }> }>
  }
}

test('a language is added, translated by keyboard, sent out, taken in, and played', async ({ page, app }) => {
  const id = await openStory(page, app, story)
  await settled(page)
  await page.keyboard.press('Alt+7')
  await expect(page.getByText('The story has only its own language')).toBeVisible()
  await page.getByLabel('Tag of a new language').fill('klingon!')
  await page.keyboard.press('Enter')
  await expect(page.getByText('A language tag is meant')).toBeVisible()
  await page.getByLabel('Tag of a new language').fill('de')
  await page.keyboard.press('Enter')
  // a line without a name can't be translated until it has one
  await expect(page.getByText('1 line has no short name yet')).toBeVisible()
  await page.getByRole('button', { name: 'Give them names' }).click()
  await expect(page.getByText('no short name yet')).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'missing 4' })).toBeVisible()
  // written, checked and on to the next, all by keyboard
  await page.getByLabel('“Across” in de').click()
  await page.keyboard.type('Drüben')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByLabel('“The tide turns.” in de')).toBeFocused()
  await page.keyboard.type('Die Flut.')
  await page.keyboard.press('Control+Enter')
  // what would not play is told while it is typed
  await page.keyboard.type('{seil, plural, other {#}}')
  await expect(page.getByText('would not play: this shows "seil"')).toBeVisible()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('{{rope} Seile')
  await page.keyboard.press('Escape')
  await page
    .getByLabel('“{rope, plural, one {# coil} other {# coils}}” in de')
    .fill('{rope, plural, one {# Seil} other {# Seile}}')
  await page.getByRole('button', { name: 'missing 1' }).click()
  const kept = async () => (await app.get<Kept>(`/api/stories/${id}`)).story.languages!['de']!.texts
  await expect.poll(kept).toMatchObject({
    'ending/across': { text: 'Drüben', of: 'Across', state: 'checked' },
    'line/quay.here/coils': { text: '{rope, plural, one {# Seil} other {# Seile}}' },
  })
  // out as PO, worked on elsewhere, and back; meanwhile one of its sources was changed here
  await page.getByRole('button', { name: /^all / }).click()
  const saved = async (form: string) => {
    await page.getByLabel('Form', { exact: true }).selectOption(form)
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Save to send' }).click(),
    ])
    return download
  }
  expect((await saved('xliff')).suggestedFilename()).toBe('In two tongues de.xlf')
  const download = await saved('po')
  expect(download.suggestedFilename()).toBe('In two tongues de.po')
  const po = readFileSync(await download.path(), 'utf8')
    .replace('msgid "Go on"\nmsgstr ""', 'msgid "Go on"\nmsgstr "Weiter"')
    .replace('msgstr "Drüben"', 'msgstr "Am anderen Ufer"')
    .replace('msgctxt "line/quay.here/coils"', 'msgctxt "line/quay.here/gone"')
  await page.getByLabel('“Across” in de').fill('Jenseits')
  await page.keyboard.press('Tab')
  await expect.poll(async () => (await kept())['ending/across']!.text).toBe('Jenseits')
  const file = { name: 'back.po', mimeType: 'text/plain', buffer: Buffer.from(po) }
  await page.getByLabel('Texts that come back').setInputFiles(file)
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('1 new, 1 changed here too, 1 not in the story any more, 1 as it is here')
  await expect(dialog).toContainText('it was translated otherwise here since')
  await dialog.getByRole('button', { name: 'Take in 1 text' }).click()
  await expect.poll(async () => (await kept())['choice/quay.here.go']).toMatchObject({ text: 'Weiter', of: 'Go on' })
  expect((await kept())['ending/across']!.text).toBe('Jenseits')
  // one step of undo
  await page.keyboard.press('Control+z')
  await expect.poll(async () => (await kept())['choice/quay.here.go']).toBeUndefined()
  await page.keyboard.press('Control+Shift+z')
  await expect.poll(async () => (await kept())['choice/quay.here.go']).toBeDefined()
  // a file of something else is refused, and says so
  await page
    .getByLabel('Texts that come back')
    .setInputFiles({ ...file, name: 'x.csv', buffer: Buffer.from('a,b\n1,2') })
  await expect(page.getByText('“x.csv”: the first row names the columns')).toBeVisible()
  await page.getByLabel('Texts that come back').setInputFiles({ ...file, name: 'x.odt', buffer: Buffer.from('PK') })
  await expect(page.getByText('“x.odt” has none of the endings')).toBeVisible()
  // so is what a form can't hold, where it would have gone out
  const across = page.getByLabel('“Across” in de')
  await across.fill('Jenseits. '.repeat(3_300))
  await page.keyboard.press('Tab')
  await expect.poll(async () => (await kept())['ending/across']!.text.length).toBeGreaterThan(32_767)
  await page.getByLabel('Form', { exact: true }).selectOption('xlsx')
  await page.getByRole('link', { name: 'Save to send' }).click()
  await expect(page.getByText('Nothing was saved: a cell of a workbook takes 32,767 signs')).toBeVisible()
  await across.fill('Jenseits')
  await page.keyboard.press('Tab')
  await expect.poll(async () => (await kept())['ending/across']!.text).toBe('Jenseits')
  // what is to be recorded, with what is there of it
  await page.getByRole('button', { name: 'Voices …' }).click()
  await expect(dialog).toContainText('2 texts, 4 words to speak')
  const [script] = await Promise.all([
    page.waitForEvent('download'),
    dialog.getByRole('link', { name: 'Save the script (XLSX workbook)' }).click(),
  ])
  await dialog.getByLabel('A script that was recorded').setInputFiles(await script.path())
  const sound = (name: string) => ({ name, mimeType: 'audio/wav', buffer: Buffer.from('') })
  await dialog.getByLabel('Recordings').setInputFiles([sound('quay.here.coils.wav'), sound('other.wav')])
  await expect(dialog).toContainText('1 called like no text')
  await dialog.getByRole('button', { name: 'put it away' }).click()
  // what is marked as recorded is not to be recorded again, after a reload too
  await dialog.getByRole('button', { name: 'Mark 2 texts as recorded' }).click()
  await expect(dialog).toContainText('none of them still to be recorded')
  const marks = async () => (await app.get<Kept>(`/api/stories/${id}`)).story.recordings?.map(({ id: file }) => file)
  await expect.poll(marks).toEqual(['de/quay.here.coils', expect.stringMatching(/^de\/quay\.here\./)].sort())
  await page.keyboard.press('Escape')
  // the rehearsal speaks it
  await page.goto(`${app.address}/story/${id}/rehearse`)
  await page.getByLabel('Spoken in').selectOption('de')
  await expect(page.getByRole('log')).toContainText('Die Flut.')
  await expect(page.getByRole('log')).toHaveAttribute('lang', 'de')
  await page.getByRole('button', { name: 'Weiter' }).click()
  await expect(page.getByRole('main')).toContainText('Jenseits')
  // and it plays
  await page.goto(`${app.address}/story/${id}/play`)
  await page.getByRole('button', { name: 'Begin' }).click()
  await page.getByRole('button', { name: 'Settings' }).click()
  await page.getByRole('combobox', { name: 'Language' }).selectOption('de')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Weiter' }).click()
  await expect(page.getByRole('heading', { level: 2 })).toContainText('Jenseits')
})

test('the glossary and the limit are the story’s, and each row is held to them', async ({ page, app }) => {
  const texts = { 'choice/quay.here.go': { text: 'Weiter über den Strand', of: 'Go on over the flats' } }
  const go = { id: 'go', text: 'Go on over the flats', notes: 'said in haste', to: 'quay.end' }
  const beats = [
    { id: 'here', choices: [go] },
    { id: 'end', ending: 'across' },
  ]
  const id = await openStory(page, app, quay(beats, { title: 'By one name', languages: { de: { texts } } }))
  await settled(page)
  await page.keyboard.press('Alt+7')
  const row = page.locator('[data-text-key="choice/quay.here.go"]')
  await expect(row).toContainText('note: said in haste')
  await page.getByRole('button', { name: 'Glossary …' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('A new term').fill('the flats')
  await page.keyboard.press('Enter')
  await dialog.getByLabel('What to know about the flats').fill('never the beach')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Escape')
  await expect(dialog).toHaveCount(0)
  await page.getByLabel('“the flats” in de').fill('das Watt')
  await page.keyboard.press('Tab')
  await expect(row).toContainText('“the flats” is “das Watt” elsewhere')
  await page.getByLabel('Signs that fit').fill('twelve')
  await page.keyboard.press('Enter')
  await expect(page.getByText('“twelve” is no number of signs')).toBeVisible()
  await page.getByLabel('Signs that fit').fill('12')
  await page.keyboard.press('Enter')
  await expect(row).toContainText('more than 12')
  await expect(page.getByRole('button', { name: 'too long 1' })).toBeVisible()
  const kept = async () => {
    const { terms, textLimit } = (await app.get<Kept>(`/api/stories/${id}`)).story
    return { terms, textLimit }
  }
  await expect
    .poll(kept)
    .toEqual({ terms: [{ id: 'the_flats', name: 'the flats', notes: 'never the beach' }], textLimit: 12 })
  await page.reload()
  await expect(page.getByLabel('Signs that fit')).toHaveValue('12')
  await page.getByLabel('Language', { exact: true }).selectOption('en')
  await page.getByRole('list', { name: 'Too long' }).getByRole('button', { name: '20: Go on over the flats' }).click()
  await expect(page).toHaveURL(/desk/)
  await page.keyboard.press('Alt+7')
  await page.keyboard.press('Control+z')
  await expect(page.getByLabel('Signs that fit')).toHaveValue('')
})

test('a source that is changed makes its translation out of date, with the change marked', async ({ page, app }) => {
  const languages = { de: { texts: { 'choice/quay.here.go': { text: 'Weiter', of: 'Go along', state: 'checked' } } } }
  await openStory(page, app, { ...story, title: 'Changed since', languages })
  await settled(page)
  await page.keyboard.press('Alt+7')
  const row = page.locator('[data-text-key="choice/quay.here.go"]')
  await expect(row).toHaveAttribute('data-text-state', 'outdated')
  await expect(row.locator('del')).toHaveText('along')
  await expect(row.locator('ins')).toHaveText('on')
  await row.getByRole('button', { name: 'out of date: it still fits' }).click()
  await expect(row).toHaveAttribute('data-text-state', 'draft')
})

test('the own texts go out to be proof-read, and come back line by line, from a workbook or a copy that was edited', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, { ...story, title: 'Proof-read' })
  await settled(page)
  await page.keyboard.press('Alt+7')
  await page.getByRole('button', { name: 'Give them names' }).click()
  await expect(page.getByLabel('Language', { exact: true })).toHaveValue('en')
  await page.getByLabel('Form', { exact: true }).selectOption('xlsx')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save to send' }).click(),
  ])
  const book = new ExcelJS.Workbook()
  await book.xlsx.readFile(await download.path())
  const rows = book.worksheets[0]!.getRows(2, 4)!
  const go = rows.find((row) => row.getCell(1).text === 'choice/quay.here.go')!
  expect(go.getCell(2).text).toBe('Go on')
  go.getCell(3).value = 'Go on, then'
  await page
    .getByLabel('Texts that come back')
    .setInputFiles({ name: 'read.xlsx', mimeType: 'x', buffer: Buffer.from(await book.xlsx.writeBuffer()) })
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('1 changed, 3 as it is here')
  await expect(dialog).toContainText('here: Go on')
  await dialog.getByRole('button', { name: 'Take in 1 text' }).click()
  type Own = { story: { scenes: { beats: { lines?: { text: string }[]; choices?: { text: string }[] }[] }[] } }
  const here = async () => (await app.get<Own>(`/api/stories/${id}`)).story.scenes[0]!.beats[0]!
  await expect.poll(async () => (await here()).choices![0]!.text).toBe('Go on, then')
  // a copy in Markdown that was edited as text; the line was changed here meanwhile, so it waits to be ticked
  await page.getByRole('link', { name: 'Export', exact: true }).click()
  await page.getByLabel('Form of the copy').selectOption('markdown')
  const [copy] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save the copy' }).click(),
  ])
  const edited = readFileSync(await copy.path(), 'utf8').replace('The tide turns.', 'The tide has turned.')
  await page.keyboard.press('Alt+7')
  await page
    .getByLabel('Texts that come back')
    .setInputFiles({ name: 'copy.md', mimeType: 'text/markdown', buffer: Buffer.from(edited) })
  await expect(dialog).toContainText('The tide has turned.')
  await dialog.getByRole('button', { name: 'Take in 1 text' }).click()
  await expect.poll(async () => (await here()).lines![0]!.text).toBe('The tide has turned.')
  await page.keyboard.press('Control+z')
  await expect.poll(async () => (await here()).lines![0]!.text).toBe('The tide turns.')
})

test('forms have a field each, names are held to what they are called, what does not fit is counted, a pseudo-language plays', async ({
  page,
  app,
}) => {
  const texts = { 'ending/across': { text: 'Drüben' }, 'choice/quay.here.go': { text: 'Hinüber' } }
  const told = structuredClone(story)
  told.scenes[0]!.beats[0]!.choices![0]!.text = 'Go Across'
  const id = await openStory(page, app, { ...told, title: 'Forms and names', languages: { pl: { texts } } })
  await settled(page)
  await page.keyboard.press('Alt+7')
  const row = (key: string) => page.locator(`[data-text-key="${key}"]`)
  await expect(row('choice/quay.here.go')).toContainText('“Across” is “Drüben” elsewhere')
  await expect(row('ending/across')).not.toContainText('elsewhere')
  // forms for each way in which the language counts, each in a field
  const coils = row('line/quay.here/coils')
  await coils.getByRole('button', { name: 'begin with the forms of the source' }).click()
  const forms = coils.getByRole('region', { name: 'Forms' })
  await expect(forms.getByRole('textbox')).toHaveCount(4)
  await forms.getByLabel('rope few').fill('# zwoje')
  await page.keyboard.press('Tab')
  await expect
    .poll(
      async () =>
        (await app.get<Kept>(`/api/stories/${id}`)).story.languages!['pl']!.texts['line/quay.here/coils']?.text,
    )
    .toContain('few {# zwoje}')
  // how one comes to a text
  await row('choice/quay.here.go').getByRole('button', { name: 'how one comes here' }).click()
  await expect(row('choice/quay.here.go')).toContainText('The story begins here.')
  // what does not fit
  await page.getByLabel('Signs that fit').fill('6')
  await page.keyboard.press('Enter')
  await expect(row('choice/quay.here.go')).toContainText('more than 6')
  await page.getByRole('button', { name: 'too long 2' }).click()
  await expect(row('ending/across')).toHaveCount(0)
  await page.getByRole('button', { name: 'too long 2' }).click()
  // a language that nobody speaks, played; and taken away again
  await page.getByRole('button', { name: 'Add a pseudo-language' }).click()
  await expect(page.getByLabel('Language', { exact: true })).toHaveValue('en-x-pseudo')
  await page.goto(`${app.address}/story/${id}/rehearse?spoken=en-x-pseudo`)
  await expect(page.getByRole('button', { name: /⟦Ğö Åçřöšš·+⟧/ })).toBeVisible()
  await page.keyboard.press('Alt+7')
  await page.getByLabel('Language', { exact: true }).selectOption('en-x-pseudo')
  await page.getByRole('button', { name: 'Take Pseudo-language' }).click()
  await expect
    .poll(async () => Object.keys((await app.get<Kept>(`/api/stories/${id}`)).story.languages ?? {}))
    .toEqual(['pl'])
})
