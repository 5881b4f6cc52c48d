import { expect, field, openStory, settled, test, turnTo } from './app'

const story = {
  paperCompass: 1,
  title: 'The lamp',
  language: 'en',
  start: 'yard.gate',
  ledger: [
    { id: 'oil', kind: 'counter', min: 0, max: 5 },
    { id: 'lit', kind: 'flag' },
  ],
  endings: [
    { id: 'home', name: 'Home by lamplight' },
    { id: 'lost', name: 'Lost in the dark' },
  ],
  scenes: [
    {
      id: 'yard',
      title: 'The yard',
      beats: [
        {
          id: 'gate',
          place: true,
          lines: [{ text: 'The gate.' }],
          choices: [
            { id: 'fill', text: 'Fill the lamp', do: ['oil += 1'], to: 'yard.gate' },
            { id: 'light', text: 'Light it', when: 'oil >= 2 && !lit', do: ['lit = true'], to: 'yard.gate' },
            { id: 'leave', text: 'Leave', to: 'yard.road' },
          ],
        },
        {
          id: 'road',
          lines: [{ text: 'The road.' }],
          choices: [{ id: 'on', text: 'Walk on', to: [{ when: 'lit', to: 'yard.home' }, { to: 'yard.lost' }] }],
        },
        { id: 'home', lines: [{ text: 'Home.' }], ending: 'home' },
        { id: 'lost', lines: [{ text: 'Lost.' }], ending: 'lost' },
      ],
    },
  ],
}

test('the rehearsal begins anywhere the story can be, shows what was tried, and goes on after an edit', async ({
  page,
  app,
}) => {
  await openStory(page, app, story)
  await page.getByRole('link', { name: 'Rehearse' }).click()
  await page.getByRole('button', { name: 'Begin elsewhere' }).click()
  await page.getByRole('combobox', { name: 'The beat to begin at' }).fill('road')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('combobox', { name: 'The beat to begin at' })).toHaveValue('yard.road')
  await page.locator(field('begin:with')).click()
  await page.locator(field('begin:with:edit')).fill('lit && oil == 3')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Begin there' }).click()
  await expect(page.getByText('5 decisions taken')).toBeVisible()
  await expect(page.locator('[data-entry=oil] [data-value]')).toHaveText('3')
  await page.keyboard.press('1')
  await expect(page.locator('[data-ended=home]')).toBeVisible()
  await page.keyboard.press('Backspace')
  await expect(page.locator('[data-choice="yard.road.on"] [data-tried]')).toBeVisible()

  // where that can't be, it says so
  await page.getByRole('button', { name: 'Begin elsewhere' }).click()
  await page.locator(field('begin:with')).click()
  await page.locator(field('begin:with:edit')).fill('lit && oil == 1')
  await page.keyboard.press('Enter')
  await page.getByRole('combobox', { name: 'The beat to begin at' }).fill('yard.road')
  await page.getByRole('button', { name: 'Begin there' }).click()
  await expect(page.getByRole('dialog').getByRole('alert')).toContainText(
    'Each of these can be true where the story rests at this beat, but on no route all of them together',
  )
  await page.getByRole('button', { name: 'Cancel' }).click()

  // an edit of the text being played, and on from the same point
  await page.getByRole('button', { name: /go to the text/ }).click()
  await page.locator(field('yard.road#line1')).fill('The road is white with frost.')
  await settled(page)
  await page.getByRole('link', { name: 'Rehearse' }).click()
  await expect(page.getByText('The road is white with frost.')).toBeVisible()
  await expect(page.getByText('5 decisions taken')).toBeVisible()
  // one that closes an earlier decision says which
  await page.getByRole('link', { name: 'Desk' }).click()
  await page.locator(field('yard.gate.light?when')).click()
  await page.locator(field('yard.gate.light?when:edit')).fill('oil >= 4')
  await page.keyboard.press('Enter')
  await settled(page)
  await page.getByRole('link', { name: 'Rehearse' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'no longer holds' })).toContainText('Light it')
})

test('points of no return are listed and walked; a route that an edit broke is mended', async ({ page, app }) => {
  const id = await openStory(page, app, {
    ...story,
    routes: [
      {
        id: 'lamplit',
        name: 'By lamplight',
        decisions: ['fill', 'fill', 'light', 'leave']
          .map((choice) => ({ choice: `yard.gate.${choice}` }))
          .concat({ choice: 'yard.road.on' }),
        expect: { ending: 'home' },
      },
    ],
  })
  await page.getByRole('link', { name: 'Bearings' }).click()
  await expect(page.locator('[data-no-return="yard.gate.leave"]')).toContainText('in some cases closes')
  await expect(page.locator('[data-no-return="yard.gate.light"]')).toContainText('closes “Lost in the dark”')
  await expect(page.locator('[data-route=lamplit]')).toHaveAttribute('data-route-broken', 'false')
  await page.getByRole('link', { name: 'Desk' }).click()
  await page.locator(field('yard.gate.light?when')).click()
  await page.locator(field('yard.gate.light?when:edit')).fill('oil >= 3 && !lit')
  await page.keyboard.press('Enter')
  await settled(page)
  await page.getByRole('link', { name: 'Bearings' }).click()
  await expect(page.locator('[data-route=lamplit]')).toContainText('step 3')
  await page.getByRole('button', { name: 'Mend: By lamplight' }).click()
  await expect(page.locator('[data-route=lamplit]')).toHaveAttribute('data-route-broken', 'false')
  await settled(page)
  const { story: mended } = await app.get<{ story: { routes: { decisions: unknown[] }[] } }>(`/api/stories/${id}`)
  expect(mended.routes[0]!.decisions).toHaveLength(6)
  await page.getByRole('button', { name: 'Walk it: up to yard.gate.leave' }).click()
  await expect(page.getByText('1 decision taken')).toBeVisible()
})

test('a finding with a sure mend is mended by one press and brought back by another', async ({ page, app }) => {
  const draft = await app.idOf('First draft of Hollin Reach')
  const copy = await fetch(`${app.address}/api/stories/${draft}/duplicate`, { method: 'POST' })
  const { id } = (await copy.json()) as { id: string }
  await page.goto(`${app.address}/story/${id}/bearings`)
  await settled(page)
  const hidden = page.locator('[data-finding=unreached][data-key="quay.morning#line1.variant2"]')
  await hidden.locator('[data-mend]').click()
  await settled(page)
  await expect(hidden).toHaveCount(0)
  const dead = page.locator('[data-finding=dead-end][data-key="mill.tamsin"]')
  await dead.locator('[data-mend]').click()
  await settled(page)
  await expect(dead).toHaveCount(0)
  await page.keyboard.press('Control+z')
  await settled(page)
  await expect(dead).toBeVisible()
  // what is the designer's to decide is not offered a mend
  await expect(page.locator('[data-finding=unreached][data-key="mill.loft"]')).toBeVisible()
  await expect(page.locator('[data-finding=unreached][data-key="mill.loft"] [data-mend]')).toHaveCount(0)
})

test('runs that were tried stay as a tree; values set by hand are marked, and said to occur or not', async ({
  page,
  app,
}) => {
  await openStory(page, app, story)
  await page.getByRole('link', { name: 'Rehearse' }).click()
  await expect(page.locator('[data-here="yard.gate"]')).toBeVisible()
  for (const key of ['1', 'Backspace', '2']) await page.keyboard.press(key)
  await expect(page.locator('[data-here="yard.road"]')).toBeVisible()
  const branches = page.getByRole('region', { name: 'Runs tried' }).locator('[data-branch]')
  await expect(branches).toHaveCount(2)
  // filling the lamp was tried, nothing after it
  await expect(branches.first()).toContainText('2 left')
  await branches.first().click()
  await expect(page.locator('[data-entry=oil] [data-value]')).toHaveText('1')
  await page.keyboard.press('1')
  await expect(branches).toHaveCount(3)
  await page.getByRole('button', { name: 'forget the others' }).click()
  await expect(branches).toHaveCount(2)

  // from values that no route comes to
  await page.getByRole('navigation', { name: 'Where the play is' }).getByRole('button', { name: /road/ }).click()
  await page.getByLabel('with values set by hand').check()
  await page.getByLabel('Value of oil').fill('1')
  await page.getByLabel('Value of lit').check()
  await page.getByRole('button', { name: 'Begin with these values' }).click()
  await expect(page.locator('[data-made-up=none]')).toContainText('can’t occur')
  await expect(page.getByRole('button', { name: 'Keep as a route' })).toBeDisabled()
  await page.keyboard.press('1')
  await expect(page.locator('[data-ended=home]')).toBeVisible()

  // and from values that can occur: the real route takes their place
  await page.getByRole('button', { name: 'Begin elsewhere' }).click()
  await page.getByRole('combobox', { name: 'The beat to begin at' }).fill('yard.road')
  await page.keyboard.press('Enter')
  await page.getByLabel('with values set by hand').check()
  await page.getByLabel('Value of oil').fill('2')
  await page.getByLabel('Value of lit').check()
  await page.getByRole('button', { name: 'Begin with these values' }).click()
  await page.getByRole('button', { name: /Take the real route of 4 decisions/ }).click()
  await expect(page.locator('[data-made-up]')).toHaveCount(0)
  await expect(page.getByText('4 decisions taken')).toBeVisible()
  await page.getByRole('button', { name: 'From the start' }).click()

  // one key to the text, and the play goes on from the same point
  await page.keyboard.press('2')
  await page.keyboard.press('e')
  await page.waitForURL(/desk/)
  await expect(page.locator(field('yard.road#line1'))).toBeInViewport()
})

test('the player’s own page: quests under way with what the journal reads, and things carried', async ({
  page,
  app,
}) => {
  await page.goto(`${app.address}/story/${await app.idOf('The Causeway at Hollin Reach')}/rehearse`)
  await settled(page)
  await page.locator('[data-field=word]').fill('Wren')
  await page.keyboard.press('Enter')
  const own = page.getByRole('region', { name: 'As the player sees it' })
  await expect(own).toContainText('No quest is under way')
  await page.locator('[data-choice="quay.morning.take_rope"]').click()
  await expect(own.locator('[data-carried=rope]')).toBeVisible()
  await page.locator('[data-choice="quay.morning.talk_odile"]').click()
  await page.locator('[data-choice="quay.odile.favour"]').click()
  await expect(own.locator('[data-journal=sluice]')).toContainText('Odile would count it as the toll.')
})

test('an empty answer stands for its default, and the journal shows what it reads', async ({ page, app }) => {
  await openStory(page, app, {
    paperCompass: 1,
    title: 'Asked and noted',
    language: 'en',
    start: 'quay.log',
    ledger: [
      { id: 'pilot', kind: 'text' },
      { id: 'cases', kind: 'counter', min: 0, max: 9, initial: 3 },
    ],
    quests: [
      {
        id: 'load',
        name: 'Load the cart',
        stages: [
          { id: 'begun', name: 'Begun', journal: '{pilot} has {cases, plural, one {# case} other {# cases}} to load.' },
        ],
      },
    ],
    endings: [{ id: 'home', name: 'Home' }],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          { id: 'log', ask: { into: 'pilot', prompt: 'Name for the log?' }, onward: [{ to: 'quay.cart' }] },
          {
            id: 'cart',
            arrive: [{ do: ["quest.load = 'begun'"] }],
            choices: [{ id: 'on', text: 'Go on', do: ['cases -= 2'], to: 'quay.cart' }],
          },
          { id: 'end', ending: 'home' },
        ],
      },
    ],
  })
  await page.locator(field('quay.log:prompt')).focus()
  await page.keyboard.press('Alt+.')
  await page.locator('[data-item=default]').click()
  await page.keyboard.type('Wren')
  await page.keyboard.press('Enter')
  await settled(page)
  await page.getByRole('link', { name: 'Rehearse' }).click()
  await expect(page.locator(field('word'))).toHaveAttribute('placeholder', 'Wren')
  await page.locator(field('word')).press('Enter')
  const journal = page.locator('[data-journal=load]')
  await expect(journal).toContainText('Wren has 3 cases to load.')
  await page.getByRole('button', { name: /Go on/ }).click()
  await expect(journal).toContainText('Wren has 1 case to load.')
})

test('a question that takes long says so and is stopped, also by leaving it', async ({ page, app }) => {
  const jars = Array.from({ length: 8 }, (_, at) => `jar${at}`)
  // nothing reads the jars, so that the survey is done at once, and whoever asks for all of them waits
  await openStory(page, app, {
    paperCompass: 1,
    title: 'Jars',
    language: 'en',
    start: 'shed.bench',
    ledger: jars.map((id) => ({ id, kind: 'counter', min: 0, max: 50, initial: 25 })),
    endings: [{ id: 'home', name: 'Home' }],
    scenes: [
      {
        id: 'shed',
        title: 'The shed',
        beats: [
          {
            id: 'bench',
            choices: [
              ...jars.map((id, at) => ({
                id: `pour${at}`,
                text: `Pour ${at}`,
                do: [`${id} += 1`, `${jars[(at + 1) % 8]} += 1`, `${jars[(at + 2) % 8]} -= 1`],
                to: 'shed.bench',
              })),
              { id: 'go', text: 'Go home', to: 'shed.home' },
            ],
          },
          { id: 'home', ending: 'home' },
        ],
      },
    ],
  })
  await turnTo(page, 'rehearse')
  const dialog = page.getByRole('dialog')
  const begin = dialog.getByRole('button', { name: 'Begin there' })
  const ask = async () => {
    await page.getByRole('button', { name: 'Begin elsewhere' }).click()
    await page.locator(field('begin:with')).click()
    await page.locator(field('begin:with:edit')).fill(jars.map((id, at) => `${id} == ${(at % 3) * 7}`).join(' && '))
    await page.keyboard.press('Enter')
    await begin.click()
    await expect(dialog.locator('[data-answering=find]')).toContainText(/working out a route · \d+ s/)
  }
  await ask()
  await dialog.getByRole('button', { name: 'Stop' }).click()
  await expect(dialog.getByRole('alert')).toContainText('it was stopped')
  await expect(begin).toBeEnabled()
  await page.keyboard.press('Escape')
  await ask()
  await page.keyboard.press('Escape')
  await expect(dialog).toHaveCount(0)
  await expect(page.locator('[data-answering]')).toHaveCount(0)
  // the worker answers what is asked next
  await page.getByRole('button', { name: 'Begin elsewhere' }).click()
  await begin.click()
  await expect(dialog).toHaveCount(0)
})
