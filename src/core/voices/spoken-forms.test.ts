import { randomStory } from '../../../bench/stories/random'
import { inOneGo } from '../base/slices'
import { begin, decide, type Listener } from '../play/step'
import { openness } from '../play/choices'
import { formatText } from '../play/text'
import { linkStory } from '../story/link'
import type { LinkedBeat, LinkedLine, LinkedStory } from '../story/linked'
import { eachLine } from '../story/linked-parts'
import { argumentsIn } from '../story/text'
import { spokenValues } from '../survey/questions/spoken-values'
import { spokenForms } from './spoken-forms'
import { seeds } from '../../../test/seeds'

/** Every text of every line that depends on the story, as playing all ways shows it; undefined where there are too many. */
function saidByPlaying(story: LinkedStory): Map<string, Set<string>> | undefined {
  const said = new Map<string, Set<string>>()
  const listener: Listener = {
    line: (line, now) => {
      if (line.text.parsed === undefined || line.text.isPlain) return
      said.set(line.address, (said.get(line.address) ?? new Set()).add(formatText(story, now, line.text)))
    },
  }
  const seen = new Set<string>()
  const queue = [begin(story, listener)]
  while (queue.length > 0) {
    const state = queue.pop()!
    const key = JSON.stringify({ ...state, visits: [...Object.entries(state.visits)] })
    if (seen.has(key)) continue
    seen.add(key)
    if (seen.size > 3000) return undefined
    if (state.status !== 'choice') continue
    for (const choice of story.beats[state.at]!.choices)
      if (openness(story, state, choice).open) {
        const next = decide(story, state, { choice: choice.address }, listener)
        if (next.ok) queue.push(next.value)
      }
  }
  return said
}

function lineAt(story: LinkedStory, address: string): { readonly beat: LinkedBeat; readonly line: LinkedLine } {
  const beat = story.beats[story.beatOf.get(address.slice(0, address.indexOf('#')))!]!
  let found: LinkedLine | undefined
  eachLine(beat, (line) => (found ??= line.address === address ? line : undefined))
  return { beat, line: found! }
}

function changesItself(beat: LinkedBeat): boolean {
  let changes = false
  eachLine(beat, ({ effects }) => (changes ||= effects.length > 0))
  return changes
}

function namesPeople({ text }: LinkedLine): boolean {
  return argumentsIn(text.parsed!).some(({ of }) => of === 'person')
}

test('the forms that are spoken are those that playing every way shows, and no others', () => {
  let lines = 0
  for (const seed of seeds(220)) {
    const story = linkStory(randomStory(seed))
    if (story.inOrder.some(({ ask }) => ask !== undefined) || story.entries.some(({ given }) => given !== undefined))
      continue
    const said = saidByPlaying(story)
    if (said === undefined) continue
    const values = inOneGo(spokenValues(story))
    if (values === 'too many') throw new Error('too many')
    for (const [address, texts] of said) {
      lines += 1
      const { beat, line } = lineAt(story, address)
      const forms = spokenForms(story, line, values).map(({ text }) => text)
      // as it is written, where the lines of the beat themselves change what it shows
      if (changesItself(beat)) continue
      // names that people can have are all listed, whichever of them are known when
      if (namesPeople(line)) {
        expect({ seed, address, forms }).toEqual({ seed, address, forms: expect.arrayContaining([...texts]) })
        continue
      }
      expect({ seed, address, forms: forms.sort() }).toEqual({ seed, address, forms: [...texts].sort() })
    }
  }
  expect(lines).toBeGreaterThan(50)
})
