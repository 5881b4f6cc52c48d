import type { Story } from '../../src/core/story/types'
import { addTo, addToBeat, type App, expect, field, needle, openStory, settled, test } from './app'

/** A small story with something of everything that is renamed, found, split and compared here. */
const ferry = (): Story => ({
  paperCompass: 1,
  title: 'The ferry',
  language: 'en',
  start: 'bank.morning',
  cast: [
    { id: 'odile', name: 'Odile Marsh' },
    { id: 'tamsin', name: 'Tamsin Vane' },
  ],
  ledger: [
    { id: 'rope', kind: 'item', max: 3 },
    { id: 'paid', kind: 'flag' },
  ],
  quests: [
    {
      id: 'crossing',
      name: 'Get across',
      stages: [
        { id: 'asked', name: 'Asked' },
        { id: 'done', name: 'Across', outcome: 'success' },
      ],
    },
  ],
  endings: [
    { id: 'over', name: 'Over the water' },
    { id: 'stayed', name: 'Stayed behind' },
  ],
  scenes: [
    {
      id: 'bank',
      title: 'The bank',
      beats: [
        {
          id: 'morning',
          lines: [
            { text: 'A rope lies there.' },
            { speaker: 'odile', text: 'You have {rope, plural, one {one rope} other {# ropes}}.' },
            { text: 'The ferry waits.' },
          ],
          choices: [
            {
              id: 'take',
              text: 'Take the rope',
              once: true,
              do: ['rope += 1', "quest.crossing = 'asked'"],
              to: 'bank.morning',
            },
            { id: 'cross', text: 'Cross over', when: 'rope >= 1', do: ["quest.crossing = 'done'"], to: 'far.shore' },
            { id: 'stay', text: 'Stay', to: 'bank.night' },
          ],
        },
        { id: 'night', lines: [{ text: 'Night falls.' }], ending: 'stayed' },
      ],
    },
    { id: 'far', title: 'The far side', beats: [{ id: 'shore', lines: [{ text: 'The rope held.' }], ending: 'over' }] },
  ],
})

const stored = (app: App, id: string) => app.get<{ story: Story }>(`/api/stories/${id}`).then(({ story }) => story)

test('an entry is renamed everywhere after saying how often it is named, and what deleting it would do is told first', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, ferry())
  await page.getByRole('link', { name: 'Ledger' }).click()
  await page.getByRole('button', { name: 'Rename rope' }).click()
  await page.getByLabel('New name').fill('paid')
  await expect(page.getByRole('dialog')).toContainText('the name "paid" is taken by another entry')
  await page.getByLabel('New name').fill('Tarred rope')
  await expect(page.getByRole('dialog')).toContainText('Named in 3 places')
  await page.getByRole('button', { name: 'Rename', exact: true }).click()
  await settled(page)
  const renamed = await stored(app, id)
  expect(renamed.ledger!.map((entry) => entry.id)).toEqual(['tarred_rope', 'paid'])
  expect(renamed.scenes[0]!.beats[0]).toMatchObject({
    choices: [{ do: ['tarred_rope += 1', "quest.crossing = 'asked'"] }, { when: 'tarred_rope >= 1' }, {}],
  })
  expect(JSON.stringify(renamed)).toContain('{tarred_rope, plural, one {one rope} other {# ropes}}')

  await page.getByRole('button', { name: 'Delete tarred_rope' }).click()
  await expect(page.locator('[data-what-if=told]')).toBeVisible()
  await expect(page.getByRole('dialog')).toContainText('the ending “Over the water” is no longer reached')
  await expect(page.getByRole('dialog')).toContainText('The bank · morning · “Cross over”')
  await page.getByRole('button', { name: 'Keep it' }).click()
  expect((await stored(app, id)).ledger).toHaveLength(2)
  // what nothing names goes without a question
  await page.getByRole('button', { name: 'Delete paid' }).click()
  await settled(page)
  expect((await stored(app, id)).ledger).toHaveLength(1)
  await page.keyboard.press('Control+z')
  await settled(page)
  expect((await stored(app, id)).ledger).toHaveLength(2)
})

test('a gate is picked and typed as one, and what it names can be made on the spot', async ({ page, app }) => {
  const id = await openStory(page, app, ferry())
  const edit = page.locator(field('bank.morning.stay?when:edit'))
  await page.locator(field('bank.morning.stay+when')).focus()
  await page.keyboard.press('Enter')
  await page.getByLabel('What it depends on').selectOption('entry:rope')
  await expect(edit).toHaveText('rope >= 1')
  await page.getByLabel('How it is compared').selectOption('is at most')
  await page.getByRole('spinbutton', { name: 'Value' }).fill('2')
  await page.getByLabel('One more part').selectOption('quest:crossing')
  await page.getByLabel('How it is compared').nth(1).selectOption('is before')
  await page.getByLabel('How the parts go together').selectOption('any of these')
  await expect(edit).toHaveText("rope <= 2 || before(quest.crossing, 'done')")
  // typing is followed by the picker
  await edit.fill("rope <= 2 && !paid && quest.crossing != 'lost'")
  await expect(page.getByRole('group', { name: 'Gate' })).toContainText("'lost' is not one of")
  await page.getByRole('button', { name: 'Make “lost” a stage of Get across' }).click()
  await expect(page.getByRole('group', { name: 'Gate' }).locator('[data-pick]')).toHaveCount(3)
  await page
    .getByRole('group', { name: 'Gate' })
    .locator('[data-pick=paid]')
    .getByRole('button', { name: 'Take this part away' })
    .click()
  await edit.focus()
  await page.keyboard.press('Enter')
  await settled(page)
  const story = await stored(app, id)
  expect(story.scenes[0]!.beats[0]!.choices![2]!.when).toBe("rope <= 2 && quest.crossing != 'lost'")
  // opened again its parts are told apart, also while something in it is wrong
  await page.locator(field('bank.morning.stay?when')).click()
  await expect(edit.locator('.known')).toHaveText(['rope'])
  await expect(edit.locator('.string')).toHaveText(["'lost'"])
  await edit.fill('rope <= 2 && lamp')
  await expect(edit.locator('.known')).toHaveText(['rope'])
  await expect(edit.locator('.wrong')).toHaveText(['lamp'])
  await expect(edit).toHaveAttribute('aria-invalid', 'true')
  await page.keyboard.press('Escape')
  await expect(edit).toHaveCount(0)
  expect(story.quests![0]!.stages.map((stage) => stage.id)).toEqual(['asked', 'done', 'lost'])

  // an effect, picked
  await addTo(page, 'bank.morning.stay', 'do')
  await page.getByLabel('What is changed').selectOption('entry:rope')
  await page.getByLabel('How it is changed').selectOption('goes down by')
  await page.locator(field('bank.morning.stay?do1:edit')).focus()
  await page.keyboard.press('Enter')
  await settled(page)
  expect((await stored(app, id)).scenes[0]!.beats[0]!.choices![2]!.do).toEqual(['rope -= 1'])
})

test('what is put into a text is offered, shown by its name, and its forms are written without a syntax', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, ferry())
  const line = page.locator(field('bank.morning#line3'))
  await line.focus()
  await page.keyboard.press('Control+End')
  await page.keyboard.type(' {pai')
  await expect(page.getByRole('listbox', { name: 'What can be put in' })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(line).toHaveValue('The ferry waits. {paid, select, true {…} other {…}}')
  await page.keyboard.type('The fare is settled.')
  await page.locator('[data-forms] input').nth(1).fill('Nobody has paid.')
  await page.keyboard.press('Escape')
  await page.locator(field('bank.morning:name')).focus()
  await settled(page)
  expect((await stored(app, id)).scenes[0]!.beats[0]!.lines![2]).toEqual({
    text: 'The ferry waits. {paid, select, true {The fare is settled.} other {Nobody has paid.}}',
  })
  await expect(
    page.getByRole('region', { name: 'Beat morning' }).locator('.chip').filter({ hasText: 'paid if yes' }),
  ).toBeVisible()
})

test('beats are split, joined, chosen, copied into another story and moved by key', async ({ page, app }) => {
  const id = await openStory(page, app, ferry())
  await page.locator(field('bank.morning#line3')).focus()
  await page.keyboard.press('Alt+Enter')
  await settled(page)
  let beats = (await stored(app, id)).scenes[0]!.beats
  expect(beats.map((beat) => [beat.id, beat.lines?.length, beat.choices?.length])).toEqual([
    ['morning', 2, undefined],
    ['morning_2', 1, 3],
    ['night', 1, undefined],
  ])
  await expect(needle(page)).toContainText('4 of 4 endings and stages reached')
  await page.locator(field('bank.morning#line1')).focus()
  await page.keyboard.press('Control+k')
  await page.keyboard.type('join')
  await page.keyboard.press('Enter')
  await settled(page)
  beats = (await stored(app, id)).scenes[0]!.beats
  expect(beats.map((beat) => [beat.id, beat.lines?.length, beat.choices?.length])).toEqual([
    ['morning', 3, 3],
    ['night', 1, undefined],
  ])

  // two are chosen and copied, and pasted into an empty story with all that they need
  const outline = page.getByRole('navigation', { name: 'Outline' })
  await outline.getByRole('button', { name: 'morning' }).click()
  await outline.getByRole('button', { name: 'night ending' }).click({ modifiers: ['Shift'] })
  await expect(page.getByRole('group', { name: 'Chosen beats' })).toContainText('2 chosen')
  await page.keyboard.press('Control+c')
  const other = await openStory(page, app, {
    paperCompass: 1,
    title: 'Elsewhere',
    language: 'en',
    start: 'hall.first',
    scenes: [{ id: 'hall', title: 'Hall', beats: [{ id: 'first', lines: [{ text: 'Empty.' }] }] }],
  })
  await outline.getByRole('button', { name: 'first' }).click()
  await page.keyboard.press('Control+v')
  await settled(page)
  const pasted = await stored(app, other)
  expect(pasted.scenes[0]!.beats.map((beat) => beat.id)).toEqual(['first', 'morning', 'night'])
  expect(
    [pasted.ledger, pasted.quests, pasted.cast, pasted.endings].map((list) => list!.map((item) => item.id)),
  ).toEqual([['rope'], ['crossing'], ['odile'], ['stayed']])
  expect(pasted.scenes[0]!.beats[1]!.choices!.map((choice) => choice.to)).toEqual(['hall.morning', '', 'hall.night'])

  // up and down in the outline
  await outline.getByRole('button', { name: 'night ending' }).focus()
  await page.keyboard.press('Alt+ArrowUp')
  await settled(page)
  expect((await stored(app, other)).scenes[0]!.beats.map((beat) => beat.id)).toEqual(['first', 'night', 'morning'])
  await page.keyboard.press('Control+z')
  await settled(page)
  expect((await stored(app, other)).scenes[0]!.beats.map((beat) => beat.id)).toEqual(['first', 'morning', 'night'])

  // several are deleted together, after what it would do was told
  await outline.getByRole('button', { name: 'first' }).click()
  await outline.getByRole('button', { name: 'morning' }).click({ modifiers: ['ControlOrMeta'] })
  await outline.getByRole('button', { name: 'night ending' }).click({ modifiers: ['ControlOrMeta'] })
  await expect(page.getByRole('group', { name: 'Chosen beats' })).toContainText('2 chosen')
  await page.getByRole('group', { name: 'Chosen beats' }).getByRole('button', { name: 'Delete' }).click()
  await expect(page.getByRole('dialog')).toContainText('Delete 2 beats?')
  await page.getByRole('dialog').getByRole('button', { name: 'Delete' }).click()
  await settled(page)
  expect((await stored(app, other)).scenes[0]!.beats.map((beat) => beat.id)).toEqual(['first'])
})

test('everything is found by a few letters, and words are replaced after each place was shown', async ({
  page,
  app,
}) => {
  const id = await openStory(page, app, ferry())
  await page.keyboard.press('Control+k')
  await page.keyboard.type('held')
  await expect(page.getByRole('option', { name: /The rope held/ })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('region', { name: 'Beat shore' })).toBeVisible()
  await page.keyboard.press('Alt+ArrowLeft')
  await expect(page.getByRole('region', { name: 'Beat morning' })).toBeVisible()

  await page.keyboard.press('Control+Shift+h')
  await page.getByLabel('Find', { exact: true }).fill('rope')
  await page.getByLabel('Replace with').fill('line')
  await expect(page.getByRole('dialog')).toContainText('4 texts, 4 chosen')
  // names inside of a text are not words
  await expect(page.getByRole('dialog')).toContainText('{rope, plural, one {one line} other {# lines}}')
  await page.getByLabel('Replace in: The rope held.').uncheck()
  await page.getByRole('button', { name: 'Replace in 3 texts' }).click()
  await settled(page)
  const { scenes } = await stored(app, id)
  expect([
    scenes[0]!.beats[0]!.lines![0],
    scenes[0]!.beats[0]!.choices![0]!.text,
    scenes[1]!.beats[0]!.lines![0],
  ]).toEqual([{ text: 'A line lies there.' }, 'Take the line', { text: 'The rope held.' }])

  // the outline shows only what it is asked for
  // people and entries are listed once one comes to it
  await page.getByLabel('Show beats').focus()
  await page.getByLabel('Show beats').selectOption('person:odile')
  await expect(page.getByRole('navigation', { name: 'Outline' }).locator('[data-row]')).toHaveCount(2)
})

test('a history can be read, named, compared in words and verdicts, and returned to', async ({ page, app }) => {
  const id = await openStory(page, app, ferry())
  await page.getByRole('link', { name: 'History' }).click()
  await page.getByLabel('Name of the version').fill('As it was')
  await page.keyboard.press('Enter')
  await expect(page.locator('[data-version="As it was"]')).toBeVisible()
  await page.getByRole('link', { name: 'Desk' }).click()
  await page.locator(field('bank.morning.cross?when')).focus()
  await page.keyboard.press('Enter')
  await page.locator(field('bank.morning.cross?when:edit')).fill('rope >= 2')
  await page.keyboard.press('Enter')
  await settled(page)
  await expect(page.locator('[data-consequence]')).toContainText('Over the water')
  await page.getByRole('link', { name: 'History' }).click()
  await expect(page.locator('[data-step="1"]')).toContainText(
    'gate of “Cross over” changed, beat The bank · morning: “rope >= 2”',
  )
  await page.getByRole('button', { name: 'Compare As it was with now' }).click()
  await expect(page.locator('[data-verdicts=told]')).toContainText('the ending “Over the water” is no longer reached')
  await expect(page.locator('[data-changed="bank.morning"]')).toContainText('rope >= 1')
  await page.getByRole('button', { name: 'Return to As it was' }).click()
  await settled(page)
  expect((await stored(app, id)).scenes[0]!.beats[0]!.choices![1]!.when).toBe('rope >= 1')
  await expect(page.locator('[data-step="2"]')).toContainText('returned to step 0')
  await page.keyboard.press('Control+z')
  await settled(page)
  expect((await stored(app, id)).scenes[0]!.beats[0]!.choices![1]!.when).toBe('rope >= 2')
})

test('two windows stay in step, also while both write', async ({ page, app, context }) => {
  const id = await openStory(page, app, ferry())
  const other = await context.newPage()
  await other.goto(`${app.address}/story/${id}/desk`)
  await settled(other)
  await page.locator(field('bank.night#line1')).fill('Night falls slowly.')
  await expect(other.locator(field('bank.night#line1'))).toHaveValue('Night falls slowly.')
  await Promise.all([
    page.locator(field('bank.morning#line1')).fill('Rope lies here.'),
    other
      .locator(field('far.shore#line1'))
      .or(other.locator(field('bank.night#line1')))
      .first()
      .fill('And over there.'),
  ])
  await settled(page)
  await settled(other)
  await expect(page.locator(field('bank.night#line1'))).toHaveValue('And over there.')
  await expect(other.locator(field('bank.morning#line1'))).toHaveValue('Rope lies here.')
  // a destination that another window deletes
  await addToBeat(other, 'night', 'delete')
  await other.getByRole('button', { name: 'Delete', exact: true }).click()
  await expect(page.locator(field('bank.morning.stay>to'))).toContainText('does not exist')
  await expect(needle(page)).toContainText('3 of 4 endings and stages reached')
  await other.close()
})

test('moves, promises, notes and encounters are written on the page', async ({ page, app }) => {
  const id = await openStory(page, app, ferry())
  await addTo(page, 'bank.morning.cross', 'note')
  await expect(page.locator(field('bank.morning.cross?note'))).toBeFocused()
  await page.keyboard.type('todo: a second ferry')
  await page.locator(field('bank.morning:name')).focus()
  await settled(page)
  // a line that nobody speaks has a manner too
  await addTo(page, 'bank.night#line1', 'action')
  await settled(page)
  expect((await stored(app, id)).scenes[0]!.beats[1]!.lines![0]).toEqual({ text: 'Night falls.', manner: 'action' })
  await page.getByLabel('Show beats').selectOption('todo')
  await expect(page.getByRole('navigation', { name: 'Outline' })).toContainText('to do')
  await page.getByRole('link', { name: 'Quests' }).click()
  await page.getByRole('button', { name: 'Check its moves' }).click()
  await page.getByRole('button', { name: /Take the move from Asked to Across away/ }).click()
  await settled(page)
  expect((await stored(app, id)).quests![0]!.moves).toEqual([['unstarted', 'asked']])
  await page.getByRole('link', { name: 'Bearings' }).click()
  await expect(page.locator('[data-finding=undeclared-move]')).toBeVisible()
  await page.getByLabel('Name of a new promise').fill('no free ride')
  await page.getByRole('button', { name: 'Make a promise' }).click()
  // what it says is written at once
  await expect(page.locator(field('no_free_ride:holds:edit'))).toBeFocused()
  await page.keyboard.type("ended('over') && !paid")
  await page.keyboard.press('Enter')
  await settled(page)
  await expect(page.locator('[data-promise=no_free_ride] [data-promise-verdict]')).toHaveText('broken')
  await page.getByRole('button', { name: 'Walk it: no_free_ride' }).click()
  await expect(page.getByText('The rope held.')).toBeVisible()
  // the walk is kept as a route, and an edit breaks it
  await page.getByRole('button', { name: 'Keep as a route' }).click()
  await page.getByLabel('Name of the route').fill('Over')
  await page.getByRole('button', { name: 'Keep it' }).click()
  await settled(page)
  expect((await stored(app, id)).routes).toMatchObject([
    {
      id: 'over',
      decisions: [{ choice: 'bank.morning.take' }, { choice: 'bank.morning.cross' }],
      expect: { ending: 'over', stages: { crossing: 'done' } },
    },
  ])
  await page.getByRole('link', { name: 'Ledger' }).click()
  await page.getByLabel('Most of rope').fill('0')
  await page.keyboard.press('Enter')
  await settled(page)
  await page.getByRole('link', { name: 'Bearings' }).click()
  await expect(page.locator('[data-route=over]')).toHaveAttribute('data-route-broken', 'true')
})

test('strange input is kept as it is and shown as text', async ({ page, app }) => {
  const story = ferry()
  const id = await openStory(page, app, story)
  const line = page.locator(field('bank.morning#line1'))
  const strange = '<img src=x onerror=alert(1)> \u202Eright to left\u202C a\u200Bb &amp; <b>bold</b>'
  await line.fill(strange)
  await settled(page)
  expect((await stored(app, id)).scenes[0]!.beats[0]!.lines![0]).toEqual({ text: strange })
  await page.getByRole('link', { name: 'Rehearse' }).click()
  await expect(page.getByText('<b>bold</b>')).toBeVisible()
  await page.getByRole('link', { name: 'Desk' }).click()
  await line.fill('x'.repeat(1_000_000))
  await settled(page)
  expect(((await stored(app, id)).scenes[0]!.beats[0]!.lines![0] as { text: string }).text).toHaveLength(1_000_000)
})

test('the tour of the sample goes on by five steps and never comes again', async ({ page, app }) => {
  const id = await app.idOf('The Causeway at Hollin Reach')
  await page.goto(`${app.address}/story/${id}/desk?tour`)
  await settled(page)
  await page.evaluate(() => localStorage.removeItem('paper-compass.tour'))
  await page.reload()
  const tour = page.getByRole('complementary', { name: 'Tour' })
  for (let step = 1; step <= 5; step += 1) {
    await expect(tour).toContainText(`${step} of 5`)
    await expect(page.locator('[data-toured]')).toHaveCount(1)
    await tour.getByRole('button', { name: step === 5 ? 'Begin' : 'Next' }).click()
  }
  await expect(tour).toBeHidden()
  await page.reload()
  await settled(page)
  await expect(tour).toBeHidden()
})

test('a scene of 300 beats draws only what is seen, and goes to any of them', async ({ page, app }) => {
  const beats = Array.from({ length: 300 }, (_, at) => ({
    id: `b${at}`,
    lines: [{ text: `This is beat ${at}.` }],
    ...(at < 299 ? { choices: [{ id: 'on', text: 'On', to: `long.b${at + 1}` }] } : { ending: 'end' }),
  }))
  await openStory(page, app, {
    paperCompass: 1,
    title: 'Long',
    language: 'en',
    start: 'long.b0',
    endings: [{ id: 'end', name: 'End' }],
    scenes: [{ id: 'long', title: 'Long', beats }],
  })
  expect(await page.locator('section.beat').count()).toBeLessThan(30)
  await page.keyboard.press('Control+k')
  await page.keyboard.type('beat 287')
  await expect(page.getByRole('option', { name: /This is beat 287/ })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page.locator(field('long.b287#line1'))).toBeInViewport()
  await page.locator(field('long.b287#line1')).focus()
  await page.keyboard.press('Control+Shift+Enter')
  await expect(page.locator(field('long.beat:name'))).toBeFocused()
  await settled(page)
  expect(await page.locator('section.beat').count()).toBeLessThan(30)
})

test('in a story of very many entries gates offer all of them, and the bearing begins with those of the beat', async ({
  page,
  app,
}) => {
  const many = Array.from({ length: 150 }, (_, at) => ({ id: `seen${at}`, kind: 'flag' as const }))
  const all = many.map(({ id }) => id)
  const id = await openStory(page, app, {
    paperCompass: 1,
    title: 'Many',
    language: 'en',
    start: 'hub.here',
    ledger: many,
    endings: [{ id: 'end', name: 'End' }],
    scenes: [
      {
        id: 'hub',
        title: 'Hub',
        beats: [
          {
            id: 'here',
            lines: [{ text: 'Here.' }],
            choices: [
              { id: 'on', text: 'On', when: '!seen7', do: ['seen7 = true'], to: 'hub.later' },
              { id: 'out', text: 'Out', to: 'hub.later' },
            ],
          },
          // one flag a beat would be read, so that each is followed from the beginning
          {
            id: 'later',
            lines: all.map((flag) => ({ text: `About ${flag}.`, when: flag })),
            choices: [{ id: 'end', text: 'End', to: 'hub.end' }],
          },
          { id: 'end', ending: 'end' },
        ],
      },
    ],
  })
  const panel = page.getByRole('complementary', { name: 'Bearing of this beat' })
  await expect(panel.locator('.value')).toHaveText(['seen7no'])
  await panel.getByRole('button', { name: 'and 149 that later beats ask for' }).click()
  await expect(panel.locator('.value')).toHaveCount(150)

  await page.locator(field('hub.here.out')).hover()
  await page.locator(field('hub.here.out+when')).click()
  const subject = page.getByRole('combobox', { name: 'What it depends on' })
  // the hint, and what is searched for; the rest is listed once somebody comes to it
  await expect(subject.locator('option')).toHaveCount(2)
  await subject.focus()
  await subject.selectOption('entry:seen149')
  await page.locator(field('hub.here.out?when:edit')).press('Enter')
  await expect(page.locator(field('hub.here.out?when'))).toHaveText('opens when seen149')
  await settled(page)
  expect((await stored(app, id)).scenes[0]!.beats[0]!.choices![1]!.when).toBe('seen149')
})
