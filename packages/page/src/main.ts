import { directionOf } from '../../../src/core/base/direction'
import { loadBundle, type PlayableStory } from '../../runtime/src/index'
import { hides } from '../../../src/core/formats/page/settings'
import { pageData } from './data'
import { button, make } from './element'
import { Shelf } from './kept'
import { Reading } from './reading'
import { applyLook } from './settings-panel'
import { wordsFor } from './words'

/** The title page, or the story at once; damaged files say so. */
function open(): void {
  const root = document.getElementById('page')!
  const data = pageData()
  let story: PlayableStory
  try {
    if (data === undefined) throw new Error('no data')
    story = loadBundle(data.bundle)
  } catch {
    root.replaceChildren(make('p', { role: 'alert', class: 'alone' }, wordsFor('en').damaged))
    return
  }
  const shelf = new Shelf(data.story)
  const kept = shelf.all
  const language =
    kept.language !== undefined && story.languages.includes(kept.language) ? kept.language : story.languages[0]!
  document.documentElement.lang = language
  document.documentElement.dir = directionOf(language)
  document.documentElement.dataset['ground'] = data.settings.ground ?? 'paper'
  if (/^#[0-9a-f]{6}$/i.test(data.settings.accent ?? ''))
    document.documentElement.style.setProperty('--accent', data.settings.accent!)
  applyLook(kept)
  const read = (anew: boolean, records: boolean) => new Reading(root, story, data, shelf, { anew, records, language })
  if (hides(data.settings, 'title')) {
    read(false, false)
    return
  }
  const words = wordsFor(language)
  const { author, blurb, credits, playtests } = data.settings
  const agree = make('input', { type: 'checkbox', id: 'agree' })
  const goesOn = kept.save !== undefined
  const buttons = goesOn
    ? [
        button(words.goOn, () => read(false, false), { class: 'main' }),
        button(words.anew, () => read(true, agree.checked)),
      ]
    : [button(words.begin, () => read(true, agree.checked), { class: 'main' })]
  root.replaceChildren(
    make(
      'main',
      { class: 'title' },
      make('h1', {}, story.title),
      author ? make('p', { class: 'author' }, author) : undefined,
      blurb ? make('p', { class: 'blurb' }, blurb) : undefined,
      playtests === 'ask'
        ? make('p', { class: 'agree' }, agree, make('label', { for: 'agree' }, words.record))
        : undefined,
      make('p', { class: 'row' }, ...buttons),
      credits ? make('section', { class: 'credits', 'aria-label': words.credits }, make('p', {}, credits)) : undefined,
    ),
  )
  buttons[0]!.focus()
}

open()
