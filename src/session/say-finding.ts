import { plainId } from '../core/base/ids'
import { parseAddress } from '../core/base/address'
import { parseEffect } from '../core/expression/parse'
import { beatAt, choiceAt } from '../core/story/beat-at'
import { ownersIn } from '../core/story/owners-in'
import { textParts, type TextPart } from '../core/story/text-forms'
import { plainLinesIn, type Beat, type PlainLine, type Story } from '../core/story/types'
import type { Finding } from '../core/survey/findings/finding'
import { beatName, entryName, itemName, sayAddress, storyNames } from './names'

const TEXT_MAX = 48

/** A finding as one sentence in the story's own texts and titles. */
export function sayFinding(story: Story, { kind, level, key, message: told }: Finding): string {
  const message = inOwnWords(story, told)
  const [first = '', second = '', third = ''] = key
  const names = storyNames(story)
  const quest = `“${names.quest(first)}”`
  const stage = (id: string) => `“${names.stage(first, id)}”`
  switch (kind) {
    case 'problem':
      if (second === 'to' && isUnwritten(story, first)) return `${rowName(story, first)} leads nowhere yet`
      return `${partName(second)} ${rowName(story, first)} is not understood: ${message}`
    case 'unreached':
      if (level === 'error')
        return first.includes('.')
          ? `${itemName(story, 'stages', first).replace(/: (.*)$/, ' never comes to “$1”')}`
          : `The ending “${itemName(story, 'endings', first)}” can not be reached`
      return neverReached(story, first)
    case 'dead-end':
      return `The player can get stuck at ${rowName(story, first)}`
    case 'no-way-out':
      return first === 'start'
        ? 'No ending can be reached from the start'
        : `After ${rowName(story, first)} no ending can be reached any more`
    case 'endless-run':
      return `From ${rowName(story, first)} the story goes round by itself and never stops`
    case 'promise-broken':
      return `The promise “${plainId(first)}” is broken: ${message}`
    case 'route-broken':
      return `The route “${story.routes?.find(({ id }) => id === first)?.name ?? plainId(first)}” does not play any more: ${message}`
    case 'undeclared-move':
      return `${quest} goes from ${stage(second)} to ${stage(third)}, a move that it does not declare`
    case 'stranded-stage':
      return `${quest} can be at ${stage(second)} with no outcome in reach`
    case 'left-open':
      return `The story can end with ${quest} unfinished (${names.stage(first, second)})`
    case 'overrun':
      return overrun(story, first, second)
    case 'unset-text':
      return `${rowName(story, second)} shows ${names.entry(first)} while it is still empty`
    case 'always-open':
      return `${partName(second)} ${rowName(story, first)} is always true here, so it does nothing`
    case 'unread':
      return `${capital(names.entry(first))} is remembered, and nothing asks for it`
    case 'unwritten':
      return `${capital(names.entry(first))} is asked for, and nothing changes it`
  }
}

function neverReached(story: Story, address: string): string {
  const place = parseAddress(address)
  const last = place?.steps.at(-1)
  const row = rowName(story, address)
  switch (last?.of) {
    case undefined:
      return place?.choice === undefined ? `No route comes to ${row}` : `${row} is never open`
    case 'line':
      return `${row} is never shown`
    case 'variant':
    case 'turn':
      return `${last.of === 'variant' ? 'Variant' : 'Turn'} ${last.number} (${row}) is never shown`
    case 'arrive':
      return `${row} never happens`
    case 'redirect':
    case 'onward':
    case 'rule':
      return `${row} is never taken`
  }
}

/** An effect that would leave the range of its entry: what it does, by which end. */
function overrun(story: Story, id: string, owner: string): string {
  const [row, name] = [rowName(story, owner), entryName(story, id)]
  const entry = [...(story.ledger ?? []), ...story.scenes.flatMap(({ ledger = [] }) => ledger)].find(
    (one) => one.id === id,
  )
  const beat = beatAt(story, owner)
  const part = beat && ownersIn(parseAddress(owner)!.scene, beat).find(({ address }) => address === owner)?.part
  const ways = new Set(
    (part?.do ?? []).flatMap((source) => {
      const effect = parseEffect(source)
      return effect.ok && effect.value.kind !== 'stage' && effect.value.entry === id ? [effect.value.kind] : []
    }),
  )
  const least = entry?.kind === 'counter' ? (entry.min ?? 0) : 0
  if (ways.size === 1 && ways.has('subtract')) {
    if (least !== 0) return `${row} takes ${name} below ${least}`
    return `${row} spends more ${name} than ${name.endsWith('s') ? 'are' : 'is'} left`
  }
  if (ways.size === 1 && ways.has('add') && entry !== undefined && 'max' in entry && entry.max !== undefined)
    return `${row} adds more ${name} than the ${entry.max} that there can be`
  return `${row} would take ${name} out of its range`
}

function isUnwritten(story: Story, address: string): boolean {
  const choice = choiceAt(story, address)
  return choice?.to === ''
}

/** What a finding is about, of a row: "The condition on". */
function partName(part: string): string {
  if (part === 'when') return 'The condition on'
  if (part.startsWith('do')) return 'An effect of'
  if (part === 'text') return 'The text of'
  if (part === 'to') return 'Where it leads, of'
  return `“${plainId(part)}” of`
}

/** A message with each address of a beat or choice in it replaced by what stands there. */
function inOwnWords(story: Story, message: string): string {
  return message.replaceAll(/"?\b[a-z]\w*\.[a-z]\w*(?:\.[a-z]\w*)?\b"?/g, (found) => {
    const address = found.replaceAll('"', '')
    const isThere = parseAddress(address)?.choice === undefined ? beatAt(story, address) : choiceAt(story, address)
    return isThere === undefined ? found : rowName(story, address)
  })
}

/** What stands at an address, by its own text: a choice “…”, a line “…”, a beat “…”, a road of one. */
export function rowName(story: Story, address: string): string {
  const place = parseAddress(address)
  const beat = beatAt(story, address)
  if (place === undefined || beat === undefined) return sayAddress(address, story)
  const title = `“${beatName(story, address)}”`
  const last = place.steps.at(-1)
  if (place.choice !== undefined) {
    const choice = choiceAt(story, address)
    const text = choice === undefined ? `“${plainId(place.choice)}”` : quoted(choice.text)
    return last === undefined ? text : `road ${last.number} of ${text}`
  }
  switch (last?.of) {
    case undefined:
      return title
    case 'redirect':
      return `“sent elsewhere” ${last.number} of ${title}`
    case 'onward':
      return `“goes on” ${last.number} of ${title}`
    case 'arrive':
      return `“on arrival” ${last.number} of ${title}`
    case 'rule':
      return title
    case 'line':
    case 'variant':
    case 'turn': {
      const line = lineIn(beat, address)
      return line === undefined ? sayAddress(address, story) : quoted(line.text)
    }
  }
}

/** The line that an address names, or the first of what stands there. */
function lineIn({ lines = [] }: Beat, address: string): PlainLine | undefined {
  const [, number, rest] = /#line(\d+)(.*)$/.exec(address)!
  const line = lines[Number(number) - 1]
  return line && plainLinesIn(line).find(({ suffix }) => `${suffix}.`.startsWith(`${rest}.`))?.line
}

function quoted(text: string): string {
  const parts = textParts(text)
  const said = (parts === undefined ? text : plainWords(parts)).replaceAll(/\s+/g, ' ').trim()
  return `“${said.length > TEXT_MAX ? `${said.slice(0, TEXT_MAX)}…` : said}”`
}

/** A text without what is put into it: an ellipsis for each value, the last form of what has several. */
function plainWords(parts: readonly TextPart[]): string {
  return parts
    .map((part) =>
      part.kind === 'words' ? part.text : part.kind === 'forms' ? plainWords(part.forms.at(-1)?.parts ?? []) : '…',
    )
    .join('')
}

function capital(text: string): string {
  return text.slice(0, 1).toUpperCase() + text.slice(1)
}
