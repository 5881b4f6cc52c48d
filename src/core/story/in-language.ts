import { soundTranslations } from './languages'
import { freshMemo, numbered } from './linked-parts'
import type { LinkedBeat, LinkedLine, LinkedStory, LinkedText, LinkedTurns } from './linked'

/**
 * The story as it speaks in a language: texts and names in it where they are there and sound, the story's own where not.
 * What happens in it is the same. In the story's own language it is the story.
 */
export function inLanguage(story: LinkedStory, language: string): LinkedStory {
  if (language === story.doc.language || story.doc.languages?.[language] === undefined) return story
  const texts = story.doc.languages[language].texts
  const parsed = soundTranslations(story, language)
  const named = (key: string, name: string) => (parsed.has(key) ? texts[key]!.text : name)
  const said = (key: string, text: LinkedText): LinkedText => {
    const found = parsed.get(key)
    if (found === undefined) return text
    const source = texts[key]!.text
    return { source, parsed: found, language, isPlain: !/[{}']/.test(source) }
  }
  const beats = Array.from(story.beats, (beat) => spoken(beat, said, named))
  return {
    ...story,
    beats,
    inOrder: story.inOrder.map(({ index }) => beats[index]!),
    choices: numbered(
      story.choices.length,
      beats.flatMap(({ choices }) => choices),
    ),
    turnGroups: story.turnGroups.map((group) =>
      turnsIn(group, group.address.slice(0, group.address.indexOf('#')), said),
    ),
    endings: story.endings.map((ending) => ({ ...ending, name: named(`ending/${ending.id}`, ending.name) })),
    quests: story.quests.map((quest) => ({
      ...quest,
      name: named(`quest/${quest.id}`, quest.name),
      names: quest.names.map((name, at) => (at === 0 ? name : named(`stage/${quest.id}.${quest.stages[at]!}`, name))),
    })),
    people: new Map(
      [...story.people].map(([id, person]) => [id, { ...person, name: named(`person/${id}`, person.name) }]),
    ),
    journals: new Map([...story.journals].map(([stage, text]) => [stage, said(`journal/${stage}`, text)])),
  }
}

type Said = (key: string, text: LinkedText) => LinkedText

function lineIn(line: LinkedLine, beat: string, said: Said): LinkedLine {
  return line.id === undefined ? line : { ...line, text: said(`line/${beat}/${line.id}`, line.text) }
}

function turnsIn(group: LinkedTurns, beat: string, said: Said): LinkedTurns {
  const turns = group.turns.map((turn) => ({ ...turn, lines: turn.lines.map((line) => lineIn(line, beat, said)) }))
  return { ...group, turns }
}

function spoken(beat: LinkedBeat, said: Said, named: (key: string, name: string) => string): LinkedBeat {
  const { address, ask } = beat
  const lines = beat.lines.map((line) => {
    if (line.kind === 'line') return lineIn(line, address, said)
    if (line.kind === 'turns') return turnsIn(line, address, said)
    const variants = line.variants.map((variant) => ({
      ...variant,
      lines: variant.lines.map((one) => lineIn(one, address, said)),
      turns: variant.turns && turnsIn(variant.turns, address, said),
    }))
    return { ...line, variants }
  })
  return {
    ...beat,
    lines,
    choices: beat.choices.map((choice) => ({ ...choice, text: said(`choice/${choice.address}`, choice.text) })),
    ask: ask && {
      ...ask,
      prompt: said(`prompt/${address}`, ask.prompt),
      suggest: ask.suggest.map((word, at) => named(`suggest/${address}/${at + 1}`, word)),
    },
    // others keep what they worked out of the beat as it was
    memo: freshMemo(),
  }
}
