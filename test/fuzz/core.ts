import { randomStory } from '../../bench/stories/random'
import { seededRandom, type Random } from '../../src/core/base/random'
import { isSame } from '../../src/core/base/same'
import { parseEffect, parseExpression } from '../../src/core/expression/parse'
import { printEffect, printExpression } from '../../src/core/expression/print'
import { writeSurveyJson } from '../../src/core/formats/survey-json/write'
import { writeSurveyText } from '../../src/core/formats/survey-text/write'
import { openness } from '../../src/core/play/choices'
import { begin, decide, type Listener } from '../../src/core/play/step'
import { formatText } from '../../src/core/play/text'
import { linkStory } from '../../src/core/story/link'
import type { LinkedStory } from '../../src/core/story/linked'
import { readStory } from '../../src/core/story/read'
import { parseText } from '../../src/core/story/text'
import { writeStory } from '../../src/core/story/write'
import { surveyStory } from '../../src/core/survey/survey'
import { PieceKeys } from '../../src/store/pieces'
import { mutate, randomText } from './mutate'
import type { Report } from './report'

/** Longest that a small input may take, in milliseconds; a busy machine is slow. */
const SLOW_MS = 8_000
const SURVEY_MS = 1_000

/** A story with something wrong in it: refused with reasons, or read, kept, surveyed and played. */
export function fuzzStory(seed: number, report: Report): void {
  const random = seededRandom(seed)
  report.try('stories', seed, SLOW_MS, () => {
    const sent = mutate(randomStory(seed % 4000), random)
    const text = random.chance(0.05) ? JSON.stringify(sent).slice(0, random.below(4000)) : JSON.stringify(sent)
    const read = readStory(text)
    if (!read.ok) {
      if (read.error.length === 0 || read.error.length > 10) throw new Error(`${read.error.length} reasons`)
      return
    }
    const story = read.value
    if (JSON.stringify(story) !== text) throw new Error('reading changed the document')
    const again = readStory(writeStory(story))
    if (!again.ok || !isSame(again.value, story)) throw new Error('writing and reading changed the document')
    const pieces = new PieceKeys().first(story).begun
    if (JSON.stringify(PieceKeys.compose(pieces).story) !== text) throw new Error('pieces changed the document')
    const linked = linkStory(story)
    const until = performance.now() + SURVEY_MS
    const result = surveyStory(
      linked,
      { routes: 'ends', explicit: random.pick([0, 1_000_000]) },
      () => performance.now() > until,
    )
    for (const part of writeSurveyJson(result)) if (part.includes('undefined')) throw new Error('undefined is no JSON')
    writeSurveyText('story', result)
    play(linked, random)
  })
}

function play(story: LinkedStory, random: Random): void {
  const listener: Listener = {
    line: ({ text }, state) => void formatText(story, state, text),
  }
  let state = begin(story, listener)
  for (let steps = 0; steps < 40; steps += 1) {
    const beat = story.beats[state.at]
    if (beat === undefined) return
    for (const choice of beat.choices) formatText(story, state, choice.text)
    const open = beat.choices.filter((choice) => openness(story, state, choice).open)
    if (state.status !== 'word' && state.status !== 'choice') return
    if (state.status === 'choice' && open.length === 0) throw new Error(`nothing is open at ${beat.address}`)
    const next = decide(
      story,
      state,
      state.status === 'word'
        ? { at: beat.address, word: random.pick(['Wren', 'x', '東']) }
        : { choice: random.pick(open).address },
      listener,
    )
    if (!next.ok) throw new Error(`an open decision is refused: ${next.error}`)
    state = next.value
  }
}

const TOKENS =
  'coin tide lamp name quest . quest.q0 == != < <= > >= && || ! - + * ( ) [ ] , in true false 1 99 \'lit\' "x" visits( taken( atLeast( before( at( = += -= && && || ( ) !'.split(
    ' ',
  )

/** A soup of what expressions are made of: refused with a place in it, or printed and read as the same. */
export function fuzzExpression(seed: number, report: Report): void {
  const random = seededRandom(seed)
  report.try('expressions', seed, SLOW_MS, () => {
    let text = Array.from({ length: random.below(random.chance(0.02) ? 4000 : 14) }, () => random.pick(TOKENS)).join(
      random.pick(['', ' ', ' ']),
    )
    if (random.chance(0.1)) text += randomText(random)
    const expr = parseExpression(text)
    if (expr.ok) {
      const printed = printExpression(expr.value)
      const again = parseExpression(printed)
      if (!again.ok || printExpression(again.value) !== printed) throw new Error(`printed otherwise: ${text}`)
    } else if (expr.error.start < 0 || expr.error.end > text.length || expr.error.start > expr.error.end)
      throw new Error(`the place of the trouble is outside: ${JSON.stringify(expr.error)} in ${text}`)
    const effect = parseEffect(text)
    if (effect.ok) {
      const printed = printEffect(effect.value)
      const again = parseEffect(printed)
      if (!again.ok || printEffect(again.value) !== printed) throw new Error(`printed otherwise: ${text}`)
    }
  })
}

const FORMS = [
  '{coin}',
  '{',
  '}',
  '{coin, plural, ',
  'one {',
  'other {',
  '{lamp, select, ',
  "'",
  '#',
  'words ',
  '{coin, number, ',
  '::currency/EUR',
  'percent',
  '}}',
  ', ',
  '=0 {',
  '<b>',
  '東',
  '{quest_q0}',
]

/** A soup of what texts are made of: read or refused, and shown without a fault. */
export function fuzzText(seed: number, report: Report): void {
  const random = seededRandom(seed)
  report.try('texts', seed, SLOW_MS, () => {
    const text = Array.from({ length: random.below(12) }, () => random.pick(FORMS)).join('')
    parseText(text)
    const base = randomStory(seed % 50)
    const [scene] = base.scenes
    const story = {
      ...base,
      scenes: [
        { ...scene!, beats: [{ ...scene!.beats[0]!, lines: [{ text }] }, ...scene!.beats.slice(1)] },
        ...base.scenes.slice(1),
      ],
    }
    play(linkStory(story), random)
  })
}
