import { diffArrays } from 'diff'
import {
  isGroup,
  isInTurn,
  isPlain,
  type Beat,
  type Choice,
  type CueUse,
  type Line,
  type Rule,
  type Variant,
} from '../types'

/** One thing that is different, in plain words, with what it was and what it is where that can be shown. */
export interface Note {
  readonly text: string
  readonly before?: string | undefined
  readonly after?: string | undefined
}

/** What is different about a beat: its texts, choices, gates, effects and roads. */
export function compareBeats(before: Beat, after: Beat): Note[] {
  return [
    ...compareLines(before.lines ?? [], after.lines ?? []),
    ...compareChoices(before.choices ?? [], after.choices ?? []),
    ...compareRules('redirect', before.redirects, after.redirects),
    ...compareRules('arrival', before.arrive, after.arrive),
    ...compareRules('onward road', before.onward, after.onward),
    ...changed('question', before.ask?.prompt, after.ask?.prompt),
    ...changed('word goes into', before.ask?.into, after.ask?.into),
    ...changed('ending', before.ending, after.ending),
    ...(before.place === after.place ? [] : [{ text: after.place === true ? 'made a place' : 'no longer a place' }]),
    ...changed('note', before.notes, after.notes),
  ]
}

/** A line as it is read: who says it, then what. */
export function sayLine(line: Line): string {
  if (isInTurn(line)) return `${line.when === undefined ? '' : `[${line.when}] `}${sayTurns(line)}`
  if (isGroup(line))
    return line.firstOf
      .map((variant) => {
        const said = variant.inTurn === undefined ? variant.lines?.map(sayLine).join(' / ') : sayTurns(variant)
        return `[${variant.when ?? 'otherwise'}] ${said}`
      })
      .join(' | ')
  return line.speaker === undefined ? line.text : `${line.speaker}: ${line.text}`
}

function sayTurns({ order = 'again', inTurn = [] }: Pick<Variant, 'order' | 'inTurn'>): string {
  return `in turn (${order}): ${inTurn.map(({ lines }) => lines.map(sayLine).join(' / ')).join(' → ')}`
}

/** Line by line, so that one put in between is one line added; one that took another's place is that line changed. */
function compareLines(before: readonly Line[], after: readonly Line[]): Note[] {
  const sides = [before, after].map((lines) => lines.map((line) => JSON.stringify(line)))
  const notes: Note[] = []
  let [was, is] = [0, 0]
  let gone: readonly Line[] = []
  for (const { count, removed, added } of diffArrays(sides[0]!, sides[1]!)) {
    if (removed) {
      gone = before.slice(was, was + count)
      was += count
      continue
    }
    const come = added ? after.slice(is, is + count) : []
    notes.push(...compareStretch(gone, come))
    gone = []
    is += count
    if (!added) was += count
  }
  return [...notes, ...compareStretch(gone, [])]
}

function compareStretch(gone: readonly Line[], come: readonly Line[]): Note[] {
  const pairs = Math.min(gone.length, come.length)
  return [
    ...gone.slice(0, pairs).flatMap((line, at) => compareLine(line, come[at]!)),
    ...gone.slice(pairs).map((line): Note => ({ text: 'line deleted', before: sayLine(line) })),
    ...come.slice(pairs).map((line): Note => ({ text: 'line added', after: sayLine(line) })),
  ]
}

function compareLine(before: Line, after: Line): Note[] {
  if (!isPlain(before) || !isPlain(after)) {
    const text = isGroup(before) || isGroup(after) ? 'variants changed' : 'lines in turn changed'
    return [{ text, before: sayLine(before), after: sayLine(after) }]
  }
  return [
    ...(sayLine(before) === sayLine(after)
      ? []
      : [{ text: 'line reworded', before: sayLine(before), after: sayLine(after) }]),
    ...(before.manner === after.manner
      ? []
      : [{ text: `manner of “${after.text}”`, before: before.manner, after: after.manner }]),
    ...changed(`gate of “${after.text}”`, before.when, after.when),
    ...changed(`effects of “${after.text}”`, before.do?.join('; '), after.do?.join('; ')),
    ...changed(`cues of “${after.text}”`, sayCues(before.cues), sayCues(after.cues)),
    ...changed(`note on “${after.text}”`, before.notes, after.notes),
  ]
}

function sayCues(cues: readonly CueUse[] | undefined): string | undefined {
  return cues?.map(({ cue, with: passed }) => (passed === undefined ? cue : `${cue} (${passed})`)).join(', ')
}

function compareChoices(before: readonly Choice[], after: readonly Choice[]): Note[] {
  const notes: Note[] = []
  for (const choice of before)
    if (!after.some(({ id }) => id === choice.id)) notes.push({ text: 'choice deleted', before: choice.text })
  for (const choice of after) {
    const was = before.find(({ id }) => id === choice.id)
    if (was === undefined) notes.push({ text: 'choice added', after: choice.text })
    else if (was !== choice) notes.push(...compareChoice(was, choice))
  }
  const kept = (list: readonly Choice[], other: readonly Choice[]) =>
    list.filter(({ id }) => other.some((one) => one.id === id)).map(({ id }) => id)
  if (kept(before, after).join() !== kept(after, before).join()) notes.push({ text: 'choices put in another order' })
  return notes
}

function compareChoice(before: Choice, after: Choice): Note[] {
  const of = `of “${after.text}”`
  const road = (to: string | Rule[]) => (typeof to === 'string' ? to : to.map(sayRule).join('; '))
  return [
    ...(before.text === after.text ? [] : [{ text: 'choice reworded', before: before.text, after: after.text }]),
    ...changed(`gate ${of}`, before.when, after.when),
    ...changed(`effects ${of}`, before.do?.join('; '), after.do?.join('; ')),
    ...changed(`destination ${of}`, road(before.to), road(after.to)),
    ...changed(`encounter ${of}`, before.who, after.who),
    ...(before.once === after.once
      ? []
      : [{ text: `“${after.text}” ${after.once === true ? 'can be taken once' : 'can be taken again and again'}` }]),
    ...(before.closed === after.closed
      ? []
      : [{ text: `“${after.text}” is ${after.closed === 'show' ? 'shown' : 'hidden'} while closed` }]),
    ...changed(`note ${of}`, before.notes, after.notes),
  ]
}

type AnyRule = {
  readonly when?: string | undefined
  readonly do?: readonly string[] | undefined
  readonly to?: string | undefined
}

function compareRules(name: string, before: readonly AnyRule[] = [], after: readonly AnyRule[] = []): Note[] {
  const notes: Note[] = []
  for (let at = 0; at < Math.max(before.length, after.length); at += 1) {
    const [old, now] = [before[at], after[at]]
    const was = old && sayRule(old)
    const is = now && sayRule(now)
    notes.push(...changed(`${name} ${at + 1}`, was, is))
  }
  return notes
}

function sayRule({ when, do: effects, to }: AnyRule): string {
  return [
    when === undefined ? '' : `if ${when}`,
    effects?.join('; '),
    to === undefined ? '' : `→ ${to === '' ? '(open)' : to}`,
  ]
    .filter((part) => part !== undefined && part !== '')
    .join(' ')
}

/** One note when the two differ. */
export function changed(name: string, before: string | undefined, after: string | undefined): Note[] {
  if (before === after) return []
  return [
    {
      text: before === undefined ? `${name} added` : after === undefined ? `${name} taken away` : `${name} changed`,
      before,
      after,
    },
  ]
}
