import { strToU8 } from 'fflate'
import { randomStory } from '../../../bench/stories/random'
import { manuscriptCopy } from '../reading/manuscript'
import { screenplayCopy } from '../reading/screenplay'
import { applyChange } from '../story/changes/apply'
import { linkStory } from '../story/link'
import { newStory } from '../story/new-story'
import { pasteScript } from '../story/reshape/script-paste'
import { linesOf, type Story } from '../story/types'
import { surveyStory } from '../survey/survey'
import { judge } from '../texts/incoming'
import { ownRows } from '../texts/proofs'
import { formsFor } from './forms'
import { portCalled, portOf } from './ports'
import type { Payload } from './payload'
import { seeds } from '../../../test/seeds'
import { bytesOf } from '../../../test/written'

const MADE = new Date(0)

/** A story of texts that mean something in one form or another. */
const written: Story = {
  paperCompass: 1,
  title: 'A quay & more',
  language: 'en',
  start: 'quay.morning',
  cast: [
    { id: 'odile', name: 'Odile Marsh' },
    { id: 'aske', name: 'Brother Aske' },
  ],
  ledger: [{ id: 'rope', kind: 'item', max: 3 }],
  endings: [{ id: 'across', name: 'Across' }],
  scenes: [
    {
      id: 'quay',
      title: 'The quay',
      beats: [
        {
          id: 'morning',
          title: 'Morning',
          notes: 'Cold, and the gulls are late.',
          lines: [
            { id: 'a', speaker: 'odile', text: '*Mind* the _rope_: 1 < 2 & [so on](#x)' },
            { id: 'b', speaker: 'odile', manner: 'action', text: 'lifts the lamp' },
            { id: 'c', text: '# Not a heading\n- nor an item\n3. nor this' },
            { id: 'd', speaker: 'aske', when: 'rope >= 1', text: 'Two rows,\nthe second of which ends.' },
          ],
          choices: [
            { id: 'go', text: 'Go on', when: 'rope >= 1', do: ['rope -= 1'], to: 'mill.night' },
            { id: 'stay', text: 'Stay', once: true, to: 'quay.morning' },
          ],
        },
      ],
    },
    {
      id: 'mill',
      title: 'The mill',
      beats: [
        {
          id: 'night',
          title: 'Morning',
          lines: [{ id: 'e', text: 'The wheel stands still.' }],
          choices: [{ id: 'out', text: 'Out', to: 'mill.end' }],
        },
        { id: 'end', title: 'The end', lines: [{ id: 'f', text: 'Over.' }], ending: 'across' },
      ],
    },
  ],
}

/** What a story says, without how it is named inside. */
function saidIn(story: Story) {
  return story.scenes.map(({ title, beats }) => ({
    title,
    beats: beats.map((beat) => ({
      title: beat.title,
      lines: linesOf(beat).map(({ text, speaker, manner }) => ({
        text,
        who: story.cast?.find(({ id }) => id === speaker)?.name,
        manner: manner === 'action' ? manner : 'speech',
      })),
      choices: (beat.choices ?? []).map(({ text, to }) => ({
        text,
        to: story.scenes
          .flatMap((scene) => scene.beats.map((one) => ({ address: `${scene.id}.${one.id}`, title: one.title })))
          .find(({ address }) => address === to)?.title,
      })),
    })),
  }))
}

/** A new story in which nothing stands but what was read. */
async function readBack(id: string, content: Payload): Promise<Story> {
  const read = await (await portCalled('manuscript', id)!)(bytesOf(content))
  if (!read.ok) throw new Error(read.error)
  const begun = newStory('Read')
  let count = 0
  const place = { scene: 'opening', beat: 'first', at: 0 }
  const pasted = pasteScript(begun, place, read.value.parts, (text) => ({ id: `l${(count += 1)}`, text }))!
  const made = applyChange(begun, pasted.change)
  if (!made.ok) throw new Error(made.error)
  const { story } = made.value
  return { ...story, scenes: story.scenes.slice(1) }
}

test.each(['markdown', 'docx', 'html', 'fountain'])(
  '%s: a copy of a manuscript is read as that manuscript',
  async (id) => {
    const copy = manuscriptCopy(linkStory(written), MADE)
    const content = await (await portCalled('copy', id)!)(copy)
    const read = await readBack(id, content)
    const expected = saidIn(written)
    // an ending is a centred text there, and that is a line
    if (id === 'fountain') expected[1]!.beats[1]!.lines.push({ text: 'Across', who: undefined, manner: 'speech' })
    if (id === 'html') {
      // it is made to be printed: its choices are no list
      expect(saidIn(read).map(({ title, beats }) => [title, ...beats.map((beat) => beat.title)])).toEqual(
        expected.map(({ title, beats }) => [title, ...beats.map((beat) => beat.title)]),
      )
      return
    }
    expect(saidIn(read)).toEqual(expected)
  },
)

test('a Markdown copy that was edited goes back by key, on any story', async () => {
  const write = await portCalled('copy', 'markdown')!
  const read = await portCalled('proofs', 'markdown')!
  for (let seed = 0; seed <= 150; seed += 1) {
    const doc = seed === 0 ? written : randomStory(seed)
    const linked = linkStory(doc)
    const rows = ownRows(linked).filter(({ key, source }) => /^(line|choice|prompt)\//.test(key) && source !== '')
    if (rows.length === 0) continue
    const content = (await write(manuscriptCopy(linked, MADE))) as string
    const back = await read(strToU8(content))
    if (!back.ok) throw new Error(`${seed}: ${back.error}`)
    const texts = new Map(back.value.texts.map(({ key, text }) => [key, text]))
    for (const { key, source } of rows) expect({ seed, key, text: texts.get(key) }).toEqual({ seed, key, text: source })
    expect(
      new Set(
        judge(
          rows,
          back.value.texts.filter(({ text }) => text !== ''),
          () => undefined,
        ).map(({ fate }) => fate),
      ),
    ).toEqual(new Set(['same']))
    // what was changed here meanwhile is told
    const other = { ...rows[0]!, source: 'otherwise', text: 'otherwise' }
    expect(
      judge(
        [other],
        back.value.texts.filter(({ key }) => key === other.key),
        () => undefined,
      )[0],
    ).toMatchObject({ fate: 'conflict' })
  }
})

test('a route is played through as a screenplay, to each ending of any story', async () => {
  let endings = 0
  for (const seed of seeds(140)) {
    const linked = linkStory(randomStory(seed))
    for (const [ending, { route }] of Object.entries(surveyStory(linked, { routes: 'ends' }).reached.endings)) {
      const copy = screenplayCopy(linked, route!, 'A way', MADE)
      if (!copy.ok) throw new Error(copy.error)
      endings += 1
      const { blocks } = copy.value
      expect(blocks.filter(({ of }) => of === 'took')).toHaveLength(route!.length)
      expect(blocks.at(-1)).toEqual({ of: 'ending', name: linked.endings[linked.endingOf.get(ending)!]!.name })
      for (const form of formsFor('copy').slice(1))
        expect(bytesOf(await (await portOf('copy', form))(copy.value)).length).toBeGreaterThan(20)
    }
  }
  expect(endings).toBeGreaterThan(20)
})

test('a text of another program is understood, or refused with the reason', async () => {
  const read = async (id: string, text: string) => {
    const found = await (await portCalled('manuscript', id)!)(strToU8(text))
    return found.ok ? found.value : found.error
  }
  expect(await read('markdown', '# The ford\n\n## Bank\n\nAske: Wait.\nFor me.\n\n* [Wait](#bank)\n* Go\n')).toEqual({
    title: 'The ford',
    parts: [
      { of: 'beat', title: 'Bank' },
      { of: 'line', isAction: false, speaker: 'Aske', text: 'Wait. For me.' },
      { of: 'choice', text: 'Wait', to: 'bank' },
      { of: 'choice', text: 'Go' },
    ],
  })
  expect(
    await read(
      'fountain',
      'Title: The ford\nAuthor: Wren\n\nFADE IN:\n\nINT. MILL - DAY #1#\n\nThe wheel /* not\n\nthis */ turns.\n\nTAMSIN (O.S.) ^\n(low)\nWho is *there*?\nSay.\n\nCUT TO:\n\n= It rains.\n\n> THE END <\n',
    ),
  ).toEqual({
    title: 'The ford',
    parts: [
      { of: 'line', isAction: false, text: 'FADE IN:' },
      { of: 'beat', title: 'INT. MILL - DAY' },
      { of: 'line', isAction: false, text: 'The wheel  turns.' },
      { of: 'line', speaker: 'TAMSIN', isAction: true, text: 'low' },
      { of: 'line', speaker: 'TAMSIN', isAction: false, text: 'Who is there?\nSay.' },
      { of: 'note', text: 'It rains.' },
      { of: 'line', isAction: false, text: 'THE END' },
    ],
  })
  expect(
    await read(
      'html',
      '<style>p{}</style><h1>Mill</h1><p><b>Tamsin</b>: Who?</p><ul><li><a href="#m">On</a></li></ul><h1 id=m>Yard</h1><script>x</script>',
    ),
  ).toEqual({
    parts: [
      { of: 'beat', title: 'Mill' },
      { of: 'line', speaker: 'Tamsin', isAction: false, text: 'Who?' },
      { of: 'choice', text: 'On', to: 'yard' },
      { of: 'beat', title: 'Yard' },
    ],
  })
  expect(
    await read(
      'csv',
      'Scene,Beat,Speaker,Line,Type,Leads to\nMill,Door,Tamsin,Who?,,\nMill,Door,,Go in,choice,Yard\nMill,Yard,,Mud.,action,',
    ),
  ).toEqual({
    parts: [
      { of: 'scene', title: 'Mill' },
      { of: 'beat', title: 'Door' },
      { of: 'line', speaker: 'Tamsin', isAction: false, text: 'Who?' },
      { of: 'choice', text: 'Go in', to: 'Yard' },
      { of: 'beat', title: 'Yard' },
      { of: 'line', isAction: true, text: 'Mud.' },
    ],
  })
  // as word processors write it: bold by style, a list beside its items
  expect(
    await read(
      'html',
      '<div><h2>Mill</h2><p><span style="font-weight:700">Tamsin:</span> Who<br>is it?</p><ul><li>On</li><ul><li>Back</li></ul></ul><table><tr><td>a</td><td>b</td></tr></table><pre>x\n y</pre></div>',
    ),
  ).toEqual({
    parts: [
      { of: 'beat', title: 'Mill' },
      { of: 'line', speaker: 'Tamsin', isAction: false, text: 'Who\nis it?' },
      { of: 'choice', text: 'On' },
      { of: 'choice', text: 'Back' },
      { of: 'line', isAction: false, text: 'a b' },
      { of: 'line', isAction: false, text: 'x\n y' },
    ],
  })
  for (const form of formsFor('manuscript'))
    for (const bytes of [
      new Uint8Array(),
      new Uint8Array([0xff, 0x00, 0xd8]),
      strToU8('PK\u0003\u0004nothing'),
      strToU8('\n \n'),
    ]) {
      const found = await (await portOf('manuscript', form))(bytes)
      if (form.id === 'script' && found.ok) continue
      const told = { id: form.id, parts: found.ok ? found.value.parts.length : 0 }
      expect(told).toEqual({ id: form.id, parts: expect.any(Number) })
    }
})

test('a long text is understood as a short one is', async () => {
  const read = await portCalled('manuscript', 'markdown')!
  const beat = (number: number) =>
    `## Beat ${number}\n\n**Odile:** It is ${number}.\n\n\`\`\`\n# no heading\n\`\`\`\n\n- [On][next]\n- [Back](#beat-${number})\n`
  const source = `# Scene\n\n${Array.from({ length: 900 }, (_, at) => beat(at + 1)).join('\n')}\n# Last\n\n[next]: #last\n`
  const found = await read(strToU8(source))
  expect(found.ok && found.value.parts.filter(({ of }) => of === 'beat')).toHaveLength(900)
  expect(found.ok && found.value.parts.filter((part) => part.of === 'choice' && part.to !== undefined)).toHaveLength(
    900,
  )
  expect(
    found.ok && found.value.parts.filter((part) => part.of === 'line' && part.text === '# no heading'),
  ).toHaveLength(900)
})
