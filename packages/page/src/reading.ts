import { directionOf } from '../../../src/core/base/direction'
import type { Choice, PlayableStory, Playthrough, RouteItem } from '../../runtime/src/index'
import { hides } from '../../../src/core/formats/page/settings'
import type { PageData } from './data'
import { button, make } from './element'
import type { Kept, Said, Shelf } from './kept'
import { Recorder, type PlayRecord } from './record'
import { settingsPanel } from './settings-panel'
import { wordsFor, type Words } from './words'

interface Start {
  readonly anew: boolean
  /** Whether the reader agreed to a record. */
  readonly records: boolean
  readonly language: string
}

/** The story as it is read: what was said, and beneath it what one can do. */
export class Reading {
  private game!: Playthrough
  private recorder: Recorder | undefined
  private readonly said = make('div', { class: 'said' })
  private readonly offers = make('div', { class: 'offers' })
  private readonly dialog = make('dialog', { 'aria-labelledby': 'panel' })
  private readonly bar = make('header', { class: 'bar' })
  private history: (Said | { chosen: string })[] = []

  constructor(
    root: HTMLElement,
    private readonly story: PlayableStory,
    private readonly data: PageData,
    private readonly shelf: Shelf,
    { anew, records, language }: Start,
  ) {
    root.replaceChildren(this.bar, make('main', {}, this.said, this.offers), this.dialog)
    document.addEventListener('keydown', (event) => this.key(event))
    if (anew || !this.goOn(language)) this.begin(language, records)
  }

  private get words(): Words {
    return wordsFor(this.game.language)
  }

  private begin(language: string, records: boolean): void {
    const seed = 1 + Math.floor(Math.random() * 1_000_000_000)
    this.game = this.story.begin({ language, seed })
    const { story, version } = this.data
    const of = { story, version, title: this.story.title, language, seed }
    this.recorder = records ? Recorder.begin(of, this.game) : undefined
    this.history = []
    this.said.replaceChildren()
    this.shelf.put({ record: this.recorder?.now(this.game), language })
    this.show(undefined)
  }

  /** Goes on where one was, also after the story was changed; false where nothing is kept, or it can't be read. */
  private goOn(language: string): boolean {
    const { save, said = [], version, record } = this.shelf.all
    if (save === undefined) return false
    let notice: string | undefined
    try {
      this.game = this.story.begin({ language })
      const { moved } = this.game.load(save)
      if (moved) notice = this.words.moved
      else if (version !== this.data.version) notice = this.words.newer
    } catch {
      this.begin(language, false)
      this.tell(this.words.unread)
      return true
    }
    if (record !== undefined && version === this.data.version) this.recorder = new Recorder(record as PlayRecord)
    this.history = [...said]
    for (const one of said) this.said.append(this.line(one))
    if (notice !== undefined) this.tell(notice)
    this.show(undefined, notice !== undefined)
    return true
  }

  /** Shows what was said since, what is asked, and keeps where one is. */
  private show(chosen: string | undefined, quiet = false): void {
    const { game, words } = this
    document.documentElement.lang = game.language
    document.documentElement.dir = directionOf(game.language)
    document.title = this.story.title
    const before = this.said.querySelectorAll('.passage').length
    if (hides(this.data.settings, 'earlier') && chosen !== undefined) this.said.replaceChildren()
    const passage = make('section', { class: 'passage', tabindex: '-1', 'aria-label': words.text })
    if (chosen !== undefined) {
      this.history.push({ chosen })
      passage.append(this.line({ chosen }))
    }
    for (const { text, name, manner } of game.lines) {
      if (text === '') continue
      const one = { text, manner, ...(name === undefined ? {} : { name }) }
      this.history.push(one)
      passage.append(this.line(one))
    }
    if (passage.childElementCount > 0) this.said.append(passage)
    this.drawBar()
    this.drawOffers()
    const kept: Kept = { said: this.history, version: this.data.version, language: game.language }
    const rests = game.status !== 'endless' && game.status !== 'nowhere'
    this.shelf.put(rests ? { ...kept, save: game.save() } : kept)
    if (quiet || passage.childElementCount === 0) this.offers.querySelector<HTMLElement>('button, input')?.focus()
    else {
      // whoever listens goes on at the new text; whoever looks sees its beginning
      passage.focus({ preventScroll: true })
      if (before > 0) passage.scrollIntoView({ block: 'start' })
    }
  }

  private line(one: Said | { readonly chosen: string }): HTMLElement {
    if ('chosen' in one) return make('p', { class: 'chosen' }, one.chosen)
    // what somebody does is told, not said
    const isSaid = one.manner === 'speech' || one.manner === 'thought'
    const speech = one.name === undefined || !isSaid ? undefined : make('span', { class: 'speaker' }, one.name)
    return make('p', { class: `line ${one.manner}` }, speech, speech && ' ', make('span', { class: 'words' }, one.text))
  }

  private tell(text: string): void {
    this.said.append(make('p', { class: 'notice', role: 'status' }, text))
  }

  private drawBar(): void {
    const { words, data } = this
    const parts: Node[] = [make('h1', {}, this.story.title)]
    const tools = make('nav', { 'aria-label': words.menu })
    if (!hides(data.settings, 'journal') && this.hasQuests)
      tools.append(button(words.journal, () => this.openJournal()))
    if (!hides(data.settings, 'bag') && this.hasItems) tools.append(button(words.bag, () => this.openBag()))
    tools.append(button(words.menu, () => this.openSettings()))
    parts.push(tools)
    this.bar.replaceChildren(...parts)
  }

  private get hasQuests(): boolean {
    return Object.keys(this.game.stages).length > 0
  }

  private get hasItems(): boolean {
    return this.story.hasItems
  }

  private drawOffers(): void {
    const { game, words } = this
    const { status } = game
    if (status === 'choice' || status === 'stuck') {
      const list = make('ol', { 'aria-label': words.choices })
      let number = 0
      for (const choice of game.choices)
        list.append(make('li', {}, this.choice(choice, choice.open ? (number += 1) : 0)))
      const stuck = status === 'stuck' ? make('p', { class: 'notice', role: 'status' }, words.stuck) : undefined
      this.offers.replaceChildren(
        ...[stuck, list.childElementCount > 0 ? list : undefined].filter((one) => one !== undefined),
      )
      if (status === 'stuck') this.offers.append(this.anewButton())
      return
    }
    if (status === 'word') {
      this.offers.replaceChildren(this.ask())
      return
    }
    const ending = game.ending
    this.offers.replaceChildren(
      make(
        'div',
        { class: 'ending' },
        ending === undefined
          ? make('p', { class: 'notice', role: 'status' }, status === 'nowhere' ? words.nowhere : words.endless)
          : make('h2', {}, make('small', {}, words.theEnd), ' ', ending.name),
        ending !== undefined && this.data.settings.credits
          ? make('p', { class: 'credits' }, this.data.settings.credits)
          : undefined,
        this.anewButton(),
      ),
    )
  }

  private anewButton(): HTMLElement {
    const { words } = this
    const row = make(
      'p',
      { class: 'row' },
      button(words.anew, () => this.begin(this.game.language, this.recorder !== undefined)),
    )
    if (this.recorder !== undefined) row.append(button(words.saveRecord, () => this.saveRecord()))
    return row
  }

  private choice(choice: Choice, number: number): HTMLElement {
    const { words } = this
    const text = choice.text === '' ? choice.id : choice.text
    if (choice.open) {
      const made = button(text, () => this.play({ choice: choice.id }, text), {
        class: 'choice',
        'data-choice': choice.id,
      })
      if (number < 10) made.dataset['key'] = String(number)
      return made
    }
    const why = choice.why?.kind === 'once' ? words.once : choice.why?.parts.map((part) => part.words).join('; ')
    const reason = why ? `${choice.why?.kind === 'gate' ? `${words.needs} ` : ''}${why}` : words.closed
    return make('p', { class: 'choice closed' }, text, make('small', {}, ` — ${reason}`))
  }

  private ask(): HTMLElement {
    const { words } = this
    const prompt = this.game.prompt!
    const field = make('input', { type: 'text', id: 'word', autocomplete: 'off', placeholder: prompt.default })
    const trouble = make('p', { role: 'alert', class: 'notice' })
    const form = make(
      'form',
      { class: 'ask' },
      make('label', { for: 'word' }, prompt.text === '' ? words.answer : prompt.text),
      field,
      make('button', { type: 'submit' }, words.say),
      trouble,
    )
    if (prompt.suggest.length > 0) {
      const row = make('p', { class: 'row' })
      for (const word of prompt.suggest) row.append(button(word, () => this.play({ at: this.game.beat!, word }, word)))
      form.append(row)
    }
    form.addEventListener('submit', (event) => {
      event.preventDefault()
      const word = field.value.trim() || prompt.default
      if (word !== undefined) return this.play({ at: this.game.beat!, word: field.value }, word)
      trouble.textContent = words.empty
      field.focus()
    })
    return form
  }

  private play(item: RouteItem, chosen: string): void {
    const at = this.game.beat ?? ''
    if ('choice' in item) this.game.choose(item.choice)
    else if ('word' in item) this.game.say(item.word)
    const record = this.recorder?.note(item, at, this.game)
    if (record !== undefined) this.shelf.put({ record })
    this.show(chosen)
  }

  /** 1 to 9 take a choice; the arrows go from one to the next. */
  private key(event: KeyboardEvent): void {
    if (this.dialog.open || event.ctrlKey || event.altKey || event.metaKey) return
    if (event.target instanceof HTMLInputElement || event.target instanceof HTMLSelectElement) return
    const all = [...this.offers.querySelectorAll<HTMLButtonElement>('button')]
    if (/^[1-9]$/.test(event.key)) {
      this.offers.querySelector<HTMLButtonElement>(`[data-key="${event.key}"]`)?.click()
      return
    }
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0
    const now = all.indexOf(document.activeElement as HTMLButtonElement)
    if (step === 0 || (now === -1 && step === -1)) return
    const next = all[now + step]
    if (next === undefined) return
    event.preventDefault()
    next.focus()
  }

  private panel(title: string, ...content: readonly Node[]): void {
    const close = button(this.words.close, () => this.dialog.close(), { class: 'close' })
    this.dialog.replaceChildren(make('h2', { id: 'panel' }, title), ...content, close)
    if (!this.dialog.open) this.dialog.showModal()
    close.focus()
  }

  private openJournal(): void {
    const { words } = this
    const pages = this.game.journal.map(({ name, stageName, outcome, text }) =>
      make(
        'section',
        {},
        make('h3', {}, name),
        make('p', { class: 'stage' }, outcome === undefined ? stageName : `${stageName} — ${words[outcome]}`),
        text === undefined ? undefined : make('p', {}, text),
      ),
    )
    this.panel(words.journal, ...(pages.length === 0 ? [make('p', {}, words.noJournal)] : pages))
  }

  private openBag(): void {
    const { words } = this
    const items = this.game.bag.map(({ name, count }) => make('li', {}, count === 1 ? name : `${name} × ${count}`))
    this.panel(words.bag, items.length === 0 ? make('p', {}, words.noBag) : make('ul', {}, ...items))
  }

  private openSettings(): void {
    const { words, shelf } = this
    this.panel(
      words.menu,
      ...settingsPanel({
        words,
        shelf,
        languages: this.story.languages,
        language: this.game.language,
        speak: (language) => {
          this.game.language = language
          this.shelf.put({ language })
          this.drawBar()
          this.drawOffers()
          this.openSettings()
        },
        anew: () => this.askAnew(),
        saveRecord: this.recorder && (() => this.saveRecord()),
        credits: this.data.settings.credits,
      }),
    )
  }

  private askAnew(): void {
    const { words } = this
    this.panel(
      words.anew,
      make('p', {}, words.anewSure),
      button(words.anew, () => {
        this.dialog.close()
        this.begin(this.game.language, this.recorder !== undefined)
      }),
    )
  }

  /** Gives the record as a file. */
  private saveRecord(): void {
    const blob = new Blob([JSON.stringify(this.recorder!.now(this.game), null, 1)], { type: 'application/json' })
    const link = make('a', { href: URL.createObjectURL(blob), download: 'how-i-played.playtest.json' })
    link.click()
    setTimeout(() => URL.revokeObjectURL(link.href), 1000)
  }
}
