import { linkedNames } from '../story/linked-names'
import { beatName } from '../story/beat-at'
import { inLanguage } from '../story/in-language'
import type { LinkedStory } from '../story/linked'
import { eachLine } from '../story/linked-parts'
import { wordsOfText } from '../story/words'
import { sayCondition } from '../expression/words'
import type { SpokenValues } from '../survey/questions/spoken-values'
import { spokenForms } from './spoken-forms'
import { NARRATOR, type VoiceRow } from './takes'

/**
 * What is to be recorded in a language, in the order of the manuscript; lines without a short name have no file. `values`:
 * what lines show, by their addresses.
 */
export function voiceRows(
  written: LinkedStory,
  language: string,
  values: ReadonlyMap<string, SpokenValues> | 'too many',
): VoiceRow[] {
  const story = inLanguage(written, language)
  const names = linkedNames(story)
  const rows: VoiceRow[] = []
  for (const beat of story.inOrder) {
    const scene = story.scenes[beat.scene]!
    const title = beatName(story.doc, beat.address)
    let before = ''
    eachLine(beat, (line) => {
      const { id: name, speaker, manner, cues, when } = line
      const who = speaker === undefined ? NARRATOR : (story.people.get(speaker)?.name ?? speaker)
      const forms = spokenForms(story, line, values)
      const gate = when?.expr === undefined ? '' : `when ${sayCondition(when.expr, names)}`
      if (name !== undefined)
        for (const { text, when: holds, tag } of forms)
          rows.push({
            file: [beat.address, name, tag].filter((part) => part !== '').join('.'),
            key: `line/${beat.address}/${name}`,
            person: speaker ?? NARRATOR,
            who,
            scene: scene.id,
            situation: [`${scene.title} · ${title}`, gate, holds].filter((part) => part !== '').join(' · '),
            before,
            text,
            manner,
            cue: cues
              .map(({ cue, with: more }) =>
                [story.cues.get(cue) ?? cue, more].filter((part) => part !== undefined).join(': '),
              )
              .join(', '),
            words: wordsOfText(text, language),
          })
      before = `${speaker === undefined ? '' : `${who}: `}${forms[0]?.text ?? ''}`
    })
  }
  return rows
}
