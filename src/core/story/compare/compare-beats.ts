import { isGroup, type Beat, type Choice, type Line, type Rule } from '../types'

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
  if (isGroup(line))
    return line.firstOf
      .map((variant) => `[${variant.when ?? 'otherwise'}] ${variant.lines.map(sayLine).join(' / ')}`)
      .join(' | ')
  return line.speaker === undefined ? line.text : `${line.speaker}: ${line.text}`
}

/** Longest common subsequence of the lines, so that one put in between is one line added. */
function compareLines(before: readonly Line[], after: readonly Line[]): Note[] {
  const was = before.map((line) => JSON.stringify(line))
  const is = after.map((line) => JSON.stringify(line))
  const length: number[][] = Array.from({ length: was.length + 1 }, () => new Array<number>(is.length + 1).fill(0))
  for (let a = was.length - 1; a >= 0; a -= 1) {
    for (let b = is.length - 1; b >= 0; b -= 1) {
      length[a]![b] = was[a] === is[b] ? length[a + 1]![b + 1]! + 1 : Math.max(length[a + 1]![b]!, length[a]![b + 1]!)
    }
  }
  const notes: Note[] = []
  let gone: Line[] = []
  let come: Line[] = []
  const settle = () => {
    const pairs = Math.min(gone.length, come.length)
    for (let at = 0; at < pairs; at += 1) notes.push(...compareLine(gone[at]!, come[at]!))
    for (const line of gone.slice(pairs)) notes.push({ text: 'line deleted', before: sayLine(line) })
    for (const line of come.slice(pairs)) notes.push({ text: 'line added', after: sayLine(line) })
    gone = []
    come = []
  }
  let a = 0
  let b = 0
  while (a < was.length || b < is.length) {
    if (a < was.length && b < is.length && was[a] === is[b]) {
      settle()
      a += 1
      b += 1
    } else if (b === is.length || (a < was.length && length[a + 1]![b]! >= length[a]![b + 1]!)) gone.push(before[a++]!)
    else come.push(after[b++]!)
  }
  settle()
  return notes
}

function compareLine(before: Line, after: Line): Note[] {
  if (isGroup(before) || isGroup(after))
    return [{ text: 'variants changed', before: sayLine(before), after: sayLine(after) }]
  return [
    ...(sayLine(before) === sayLine(after)
      ? []
      : [{ text: 'line reworded', before: sayLine(before), after: sayLine(after) }]),
    ...(before.manner === after.manner
      ? []
      : [{ text: `manner of “${after.text}”`, before: before.manner, after: after.manner }]),
    ...changed(`gate of “${after.text}”`, before.when, after.when),
    ...changed(`effects of “${after.text}”`, before.do?.join('; '), after.do?.join('; ')),
    ...changed(`note on “${after.text}”`, before.notes, after.notes),
  ]
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
