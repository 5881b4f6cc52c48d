import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import { IntlMessageFormat } from 'intl-messageformat'
import { soundTranslations } from '../../story/languages'
import type { LinkedStory, LinkedText } from '../../story/linked'
import { textArgument } from '../../story/text'
import type { BundleArgument, BundleText, BundleTextPart, TextIndex } from './format'

/** The texts of a story in all its languages, numbered as they are asked for. */
export class TextTable {
  readonly texts: Record<string, (BundleText | null)[]> = {}
  private readonly translations: (readonly [string, ReturnType<typeof soundTranslations>])[]
  private readonly own: string
  private readonly people: readonly string[]

  constructor(private readonly story: LinkedStory) {
    this.own = story.doc.language
    this.people = [...story.people.keys()]
    this.translations = Object.keys(story.doc.languages ?? {})
      .filter((language) => language !== this.own)
      .map((language) => [language, soundTranslations(story, language)])
    for (const language of [this.own, ...this.translations.map(([name]) => name)]) this.texts[language] = []
  }

  /** A text of the author's; `key`: what translations call it. */
  text(text: LinkedText, key?: string): TextIndex {
    // what can't be read is shown as written
    return this.add(text.parsed === undefined ? text.source : this.parts(text.parsed), key)
  }

  /** A name, which is shown as written. */
  name(name: string, key?: string): TextIndex {
    return this.add(name, key)
  }

  private add(text: BundleText, key: string | undefined): TextIndex {
    const own = this.texts[this.own]!
    own.push(text)
    for (const [language, sound] of this.translations) {
      const parts = key === undefined ? undefined : sound.get(key)
      this.texts[language]!.push(parts === undefined ? null : this.parts(parts))
    }
    return own.length - 1
  }

  private parts(elements: readonly MessageFormatElement[]): BundleText {
    const parts = elements.map((element) => this.part(element))
    return parts.every((part) => typeof part === 'string') ? parts.join('') : parts
  }

  private part(element: MessageFormatElement): BundleTextPart {
    switch (element.type) {
      case TYPE.literal:
        return element.value
      case TYPE.pound:
        return { count: true }
      case TYPE.number: {
        const { style } = element
        const options = typeof style === 'string' ? IntlMessageFormat.formats.number[style] : style?.parsedOptions
        return { number: this.argument(element.value), ...(options ? { style: { ...options } } : {}) }
      }
      case TYPE.select:
        return { select: this.argument(element.value), forms: this.forms(element.options) }
      case TYPE.plural:
        return {
          plural: this.argument(element.value),
          ...(element.pluralType === 'ordinal' ? { ordinal: true } : {}),
          ...(element.offset ? { offset: element.offset } : {}),
          forms: this.forms(element.options),
        }
      case TYPE.argument:
      case TYPE.date:
      case TYPE.time:
      case TYPE.tag:
        return { show: this.argument(element.value) }
    }
  }

  private forms(options: Record<string, { readonly value: MessageFormatElement[] }>): Record<string, BundleText> {
    return Object.fromEntries(Object.entries(options).map(([key, { value }]) => [key, this.parts(value)]))
  }

  private argument(name: string): BundleArgument {
    const { of, id } = textArgument(name)
    const { entryOf, questOf } = this.story
    return [of, of === 'entry' ? entryOf.get(id)! : of === 'quest' ? questOf.get(id)! : this.people.indexOf(id)]
  }
}
