import { randomStory } from '../../../../bench/stories/random'
import { seededRandom } from '../../base/random'
import { applyChange } from '../changes/apply'
import { changedRow } from '../changed-row'
import type { Beat, PlainLine, Story } from '../types'
import { personMeant } from './person-meant'
import { joinLines, nextSpeaker, speakLines, splitLine } from './script'
import { newSpeakers, pasteScript, readScript } from './script-paste'

const next = (text: string): PlainLine => ({ text })

function story(beats: Beat[], cast: Story['cast'] = []): Story {
  return {
    paperCompass: 1,
    title: 'S',
    language: 'en',
    start: 'a.b',
    endings: [],
    cast,
    scenes: [{ id: 'a', title: 'A', beats }],
  }
}

test('a line is parted anywhere and joined again to what it was, with all that it has', () => {
  const line: PlainLine = {
    id: 'x',
    text: 'The poles run out into the haze',
    speaker: 'odile',
    when: 'lit',
    do: ['tide -= 1'],
  }
  for (let at = 1; at < line.text.length; at += 1) {
    const [first, second] = splitLine(line, at, at, next)
    expect(second).toEqual({ text: line.text.slice(at).trimStart(), speaker: 'odile' })
    const joined = joinLines(first, second)!
    expect(joined.line.text.replaceAll(' ', '')).toBe(line.text.replaceAll(' ', ''))
    expect({ ...joined.line, text: '' }).toEqual({ ...line, text: '' })
  }
  // what would be lost is not joined away
  expect(joinLines(line, { text: 'more', when: 'lit' })).toBeUndefined()
})

test('in a conversation of two an empty line goes to the other, then to nobody', () => {
  const line = (speaker: string | undefined, text = 'x'): PlainLine => ({
    text,
    ...(speaker === undefined ? {} : { speaker }),
  })
  const empty = line('ada', '')
  const beat: Beat = { id: 'b', lines: [line('ben'), line('ada'), line('ben'), line('ada'), empty] }
  const told = story(
    [beat],
    [
      { id: 'cyn', name: 'Cyn' },
      { id: 'ada', name: 'Ada' },
      { id: 'ben', name: 'Ben' },
    ],
  )
  expect(nextSpeaker(told, 'a', beat, empty)).toBe('ben')
  const second = line('ben', '')
  expect(nextSpeaker(told, 'a', { ...beat, lines: [...beat.lines!.slice(0, -1), second] }, second)).toBeUndefined()
})

test('who becomes a speaker speaks all lines that begin with the name, and no others', () => {
  const beat: Beat = {
    id: 'b',
    lines: [
      { text: 'Tamsin: Ring it.' },
      { firstOf: [{ lines: [{ text: 'TAMSIN:  Twice.' }, { text: 'Tamsin Orr: no' }] }] },
      { text: 'Tamsin waits.' },
      { text: 'Tamsin: mine', speaker: 'jory' },
    ],
  }
  expect(speakLines(beat, ['tamsin'], 'tamsin').lines).toEqual([
    { text: 'Ring it.', speaker: 'tamsin' },
    { firstOf: [{ lines: [{ text: 'Twice.', speaker: 'tamsin' }, { text: 'Tamsin Orr: no' }] }] },
    { text: 'Tamsin waits.' },
    { text: 'Tamsin: mine', speaker: 'jory' },
  ])
  expect(speakLines(beat, ['nobody'], 'tamsin')).toBe(beat)
})

test('a script is understood: names, screenplay, actions, lists, headings, paragraphs', () => {
  const parts = readScript(`ODILE MARSH (V.O.)
The boards are wet.
Mind them.
(She steps back.)

Jory: I mind them.
[He does not.]
Gulls, everywhere: on the poles,
on the boat.

- Follow her
2) Stay -> the boat house
# The boat house
Dark.`)
  expect(parts).toEqual([
    { of: 'line', isAction: false, speaker: 'ODILE MARSH', text: 'The boards are wet.\nMind them.' },
    { of: 'line', isAction: true, speaker: 'ODILE MARSH', text: 'She steps back.' },
    { of: 'line', isAction: false, speaker: 'Jory', text: 'I mind them.' },
    { of: 'line', isAction: true, text: 'He does not.' },
    { of: 'line', isAction: false, text: 'Gulls, everywhere: on the poles,\non the boat.' },
    { of: 'choice', text: 'Follow her' },
    { of: 'choice', text: 'Stay', to: 'the boat house' },
    { of: 'beat', title: 'The boat house' },
    { of: 'line', isAction: false, text: 'Dark.' },
  ])
  // without empty lines every row is one
  expect(readScript('One.\r\nTwo.\nThree.')).toHaveLength(3)
})

test('a script goes in as one edit: people made as needed, ids that are free, the empty line filled', () => {
  const before = story(
    [
      {
        id: 'b',
        lines: [{ text: 'Before.' }, { text: '' }, { text: 'After.' }],
        choices: [{ id: 'stay', text: 'Stay', to: 'a.c' }],
      },
      { id: 'c' },
    ],
    [{ id: 'odile', name: 'Odile Marsh' }],
  )
  const parts = readScript('Odile: Wet.\nJORY PELL: Dry.\n- Stay\n# c\nIn c.\n- Go → c')
  expect(newSpeakers(before, readScript('JORY PELL\nDry.\n\nOdile: Wet.'))).toEqual(['Jory Pell'])
  const { change, last } = pasteScript(before, { scene: 'a', beat: 'b', at: 1 }, parts, next)!
  const applied = applyChange(before, change)
  expect(applied.ok && applied.value.story.scenes[0]!.beats).toEqual([
    {
      id: 'b',
      lines: [
        { text: 'Before.' },
        { text: 'Wet.', speaker: 'odile' },
        { text: 'Dry.', speaker: 'jory' },
        { text: 'After.' },
      ],
      choices: [
        { id: 'stay', text: 'Stay', to: 'a.c' },
        { id: 'stay_2', text: 'Stay', to: '' },
      ],
    },
    { id: 'c_2', title: 'c', lines: [{ text: 'In c.' }], choices: [{ id: 'go', text: 'Go', to: 'a.c_2' }] },
    { id: 'c' },
  ])
  expect(applied.ok && applied.value.story.cast).toEqual([
    { id: 'odile', name: 'Odile Marsh' },
    { id: 'jory', name: 'Jory Pell' },
  ])
  expect(last).toBe('a.c_2')
})

test('any text of several rows goes in, and nothing that was there is lost', () => {
  const words = ['ODILE', 'Jory: yes', '(waits)', '[x]', '- go', '1. go', '# Head', '', 'Plain text.', 'a: b', '#', '-']
  for (let seed = 1; seed <= 60; seed += 1) {
    const random = seededRandom(seed)
    const before = randomStory(seed)
    const scene = before.scenes[0]!
    const beat = scene.beats[0]!
    const text = Array.from({ length: 12 }, () => random.pick(words)).join('\n')
    const pasted = pasteScript(
      before,
      { scene: scene.id, beat: beat.id, at: (beat.lines?.length ?? 0) - 1 },
      readScript(text),
      next,
    )!
    const applied = applyChange(before, pasted.change)
    expect({ seed, ok: applied.ok }).toEqual({ seed, ok: true })
    if (!applied.ok) continue
    const after = applied.value.story.scenes[0]!.beats[0]!
    const kept = (beat.lines ?? []).filter((line) => !('text' in line) || line.text.trim() !== '')
    expect(after.lines ?? []).toEqual(expect.arrayContaining(kept))
    expect(after.choices ?? []).toEqual(expect.arrayContaining(beat.choices ?? []))
    // and undoing it gives back what was there, letter by letter
    const back = applyChange(applied.value.story, applied.value.inverse)
    expect(back.ok && back.value.story.scenes).toEqual(before.scenes)
    expect(changedRow(applied.value.story, back.ok ? back.value.story : before)?.startsWith(`${scene.id}.`)).toBe(true)
  }
})

test('an edit is found again by its row', () => {
  const before = story([
    {
      id: 'b',
      lines: [{ text: '1' }, { firstOf: [{ lines: [{ text: 'v' }] }, { lines: [{ text: 'w' }] }] }],
      choices: [{ id: 'x', text: 'X', to: '' }],
      onward: [{ to: 'a.b', when: 'lit' }, { to: 'a.b' }],
    },
  ])
  const row = (edit: (beat: Beat) => void) => {
    const after = structuredClone(before)
    edit(after.scenes[0]!.beats[0]!)
    return changedRow(before, after)
  }
  expect(row(() => {})).toBeUndefined()
  expect(row((beat) => ((beat.lines![0] as PlainLine).text = 'new'))).toBe('a.b#line1')
  expect(row((beat) => (beat.lines![1] = { firstOf: [{ lines: [{ text: 'v' }] }, { lines: [{ text: 'z' }] }] }))).toBe(
    'a.b#line2.variant2.line1',
  )
  expect(row((beat) => (beat.choices![0]!.when = 'lit'))).toBe('a.b.x')
  expect(row((beat) => beat.onward!.reverse())).toBe('a.b#onward1')
  expect(row((beat) => (beat.title = 'T'))).toBe('a.b:name')
})

test('an encounter is with whoever is named in the choice, or met where it leads; else nobody is guessed', () => {
  const cast = [
    { id: 'odile', name: 'Odile Marsh' },
    { id: 'jory', name: 'Jory Pell' },
  ]
  const told = story(
    [
      { id: 'b' },
      { id: 'c', lines: [{ text: 'So.', speaker: 'jory' }] },
      {
        id: 'd',
        lines: [
          { text: 'a', speaker: 'jory' },
          { text: 'b', speaker: 'odile' },
        ],
      },
    ],
    cast,
  )
  const meant = (text: string, to: string) => personMeant(told, { id: 'x', text, to })
  expect(meant('Talk to Odile', '')).toBe('odile')
  expect(meant('Walk over', 'a.c')).toBe('jory')
  expect(meant('Talk to Odile and Jory', '')).toBeUndefined()
  expect(meant('Walk over', '')).toBeUndefined()
})
