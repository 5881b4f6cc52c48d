import { insertForms, insertValue, textParts } from './text-forms'
import { mapTextNames, mapTextWords } from './rename/text-names'
import { flowOrder, toFlowOrder } from './reshape/flow-order'
import { applyChange } from './changes/apply'
import type { Scene, Story } from './types'

test('a text is taken apart into words, values and forms, each form where it stands', () => {
  const source =
    'You have {rope, plural, one {a rope} other {# ropes of {name}}} and {lit, select, true {light} other {}}.'
  const parts = textParts(source)!
  expect(parts.map(({ kind }) => kind)).toEqual(['words', 'forms', 'words', 'forms', 'words'])
  const forms = parts.flatMap((part) => (part.kind === 'forms' ? part.forms : []))
  expect(forms.map(({ key, start, end }) => [key, source.slice(start, end)])).toEqual([
    ['one', 'a rope'],
    ['other', '# ropes of {name}'],
    ['true', 'light'],
    ['other', ''],
  ])
  expect(forms[1]!.parts.map(({ kind }) => kind)).toEqual(['count', 'words', 'value'])
  expect(textParts('Plain words.')).toBeUndefined()
  expect(textParts("Only '{'words'}'")).toBeUndefined()
  expect(textParts('{not closed')).toBeUndefined()
  expect(textParts('{quest_sluice}')).toEqual([{ kind: 'value', argument: { of: 'quest', id: 'sluice' } }])
})

test('what is inserted can be read, and begins where one writes on', () => {
  for (const insertion of [
    insertValue('name'),
    insertForms('lit', ['true', 'other']),
    insertForms('rope', ['one', 'other']),
    insertForms('quest_sluice', ['asked', 'done', 'other']),
  ]) {
    expect(textParts(insertion.source)).toBeDefined()
    const [start, end] = insertion.select
    expect(['…', '']).toContain(insertion.source.slice(start, end))
  }
  expect(insertForms('rope', ['one', 'other']).source).toBe('{rope, plural, one {…} other {# …}}')
})

test('names and words of a text are changed apart from each other', () => {
  const source = "'{'rope'}' rope {rope, select,   rope   {rope {rope}} other{}}"
  expect(
    mapTextNames(
      source,
      (name) => (name === 'rope' ? 'cord' : name),
      (_, key) => key,
    ),
  ).toBe("'{'rope'}' rope {cord, select,   rope   {rope {cord}} other{}}")
  expect(
    mapTextNames(
      source,
      (name) => name,
      (name, key) => (name === 'rope' && key === 'rope' ? 'cord' : key),
    ),
  ).toBe("'{'rope'}' rope {rope, select,   cord   {rope {rope}} other{}}")
  expect(mapTextWords(source, (words) => words.replaceAll('rope', 'line'))).toBe(
    "'{'line'}' line {rope, select,   rope   {line {rope}} other{}}",
  )
  expect(mapTextWords('broken { rope', (words) => words.toUpperCase())).toBe('BROKEN { ROPE')
})

test('beats are put in the order in which the story comes to them, by moves that are taken back in one', () => {
  const beat = (id: string, ...to: string[]) => ({
    id,
    choices: to.map((target, at) => ({ id: `c${at}`, text: '', to: target })),
  })
  const scene: Scene = {
    id: 's',
    title: 'S',
    beats: [
      beat('first', 's.c', 's.a', 'other.x'),
      beat('a', 's.b'),
      beat('b'),
      beat('lone'),
      { id: 'c', onward: [{ to: 's.first' }], redirects: [{ to: 's.d' }] },
      beat('d'),
    ],
  }
  expect(flowOrder(scene)).toEqual(['first', 'c', 'd', 'a', 'b', 'lone'])
  const story: Story = { paperCompass: 1, title: 'Order', language: 'en', start: 's.first', scenes: [scene] }
  const applied = applyChange(story, toFlowOrder(scene)!)
  if (!applied.ok) throw new Error(applied.error)
  expect(applied.value.story.scenes[0]!.beats.map(({ id }) => id)).toEqual(flowOrder(scene))
  expect(toFlowOrder(applied.value.story.scenes[0]!)).toBeUndefined()
  const back = applyChange(applied.value.story, applied.value.inverse)
  expect(back.ok && back.value.story).toEqual(story)
})
