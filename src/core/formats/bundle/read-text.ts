import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import type { Scope } from '../../expression/check'
import type { LinkedText } from '../../story/linked'
import { formatTrouble, textArguments } from '../../story/text'
import type { At } from '../../base/at'
import type { Names } from './read-expr'

/** The texts of a bundle as one language shows them. */
export class Texts {
  private readonly lists: readonly (readonly At[])[]
  private readonly languages: readonly string[]

  /** `language` and the story's own, which stands where the other has nothing. */
  constructor(
    at: At,
    language: string,
    own: string,
    private readonly names: Names,
  ) {
    const texts = at.key('texts')
    const known = Object.keys(texts.object())
    if (!known.includes(own)) texts.fail(`the texts of the story's own language, "${own}"`)
    this.languages = language !== own && known.includes(language) ? [language, own] : [own]
    this.lists = this.languages.map((name) => texts.key(name).items())
  }

  text(at: At, scope: Scope): LinkedText {
    const number = at.index(this.lists.at(-1)!.length, 'a text')
    const which = this.lists.findIndex((list) => list[number] !== undefined && list[number].value !== null)
    const found = this.lists[which]?.[number] ?? at.fail('a text that is there')
    const language = this.languages[which]!
    if (typeof found.value === 'string') {
      return { source: found.value, isPlain: true, parsed: undefined, language }
    }
    const parsed = this.parts(found)
    const known = textArguments(parsed, scope)
    const trouble = known.ok ? formatTrouble(parsed) : known.error
    if (trouble !== undefined) found.fail(`a text that can be shown (${trouble})`)
    return { source: '', isPlain: false, parsed, language }
  }

  /** A name: words alone. */
  name(at: At, scope: Scope): string {
    const { isPlain, source } = this.text(at, scope)
    return isPlain ? source : at.fail('a name without forms')
  }

  private parts(at: At): MessageFormatElement[] {
    if (typeof at.value === 'string') return [{ type: TYPE.literal, value: at.value }]
    return at.list((part): MessageFormatElement => {
      if (typeof part.value === 'string') return { type: TYPE.literal, value: part.value }
      const has = (key: string) => Object.hasOwn(part.object(), key)
      if (has('count')) return { type: TYPE.pound }
      if (has('show')) return { type: TYPE.argument, value: this.argument(part.key('show')) }
      if (has('number')) {
        const style = part.maybe('style', (one) => one.object())
        const parsed = style && { type: 0, tokens: [], parsedOptions: style }
        return { type: TYPE.number, value: this.argument(part.key('number')), style: parsed }
      }
      if (has('select'))
        return { type: TYPE.select, value: this.argument(part.key('select')), options: this.forms(part) }
      if (!has('plural')) part.fail('a part of a text')
      return {
        type: TYPE.plural,
        value: this.argument(part.key('plural')),
        pluralType: part.maybe('ordinal', (one) => one.boolean()) === true ? 'ordinal' : 'cardinal',
        offset: part.maybe('offset', (one) => one.integer()) ?? 0,
        options: this.forms(part),
      }
    })
  }

  private forms(part: At): Record<string, { value: MessageFormatElement[] }> {
    const forms = part.key('forms')
    if (!Object.hasOwn(forms.object(), 'other')) forms.fail('a form "other"')
    return Object.fromEntries(Object.keys(forms.object()).map((key) => [key, { value: this.parts(forms.key(key)) }]))
  }

  private argument(at: At): string {
    const [of, number] = at.items()
    if (of === undefined || number === undefined) at.fail('an entry, quest or person')
    const { entries, quests, people } = this.names
    switch (of.oneOf(['entry', 'quest', 'person'])) {
      case 'entry':
        return entries[number.index(entries.length, 'an entry')]!.id
      case 'quest':
        return `quest_${quests[number.index(quests.length, 'a quest')]!.id}`
      case 'person':
        return `person_${people[number.index(people.length, 'a person')]!}`
    }
  }
}
