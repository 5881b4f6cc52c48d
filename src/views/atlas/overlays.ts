import { beatOf } from '../../core/base/address'
import type { Use } from '../../core/story/linked'
import { NO_BEAT, TAKEN } from '../../core/story/roads'
import { linesOf } from '../../core/story/types'
import { isTodo, wordsOfBeat } from '../../core/story/words'
import type { Share } from '../../core/survey/findings/exploration'
import type { Finding } from '../../core/survey/findings/finding'
import type { NoReturn } from '../../core/survey/questions/no-return'
import { SHARES, type Outlook } from '../../core/survey/questions/outlook'
import type { PlaytestFigures } from '../../core/simulate/playtests'
import type { SimulationResult } from '../../core/simulate/result'
import { entryName, storyNames } from '../../session/names'
import { said } from '../shared/said'
import type { ChartWords } from './chart-words'
import type { Overlay, Sign } from './sheet'

export const OVERLAYS = [
  { id: 'none', name: 'verdicts only' },
  { id: 'entry', name: 'what is remembered' },
  { id: 'ending', name: 'an ending, from where' },
  { id: 'no-return', name: 'points of no return' },
  { id: 'players', name: 'simulated players' },
  { id: 'playtests', name: 'recorded playtests' },
  { id: 'rehearsal', name: 'the rehearsal so far' },
  { id: 'route', name: 'a kept route' },
  { id: 'findings', name: 'findings' },
  { id: 'todos', name: 'to-dos' },
  { id: 'words', name: 'words written' },
  { id: 'person', name: 'lines by a person' },
  { id: 'language', name: 'texts missing in a language' },
] as const
export type OverlayId = (typeof OVERLAYS)[number]['id']

/** What an overlay is made of, beside the story; undefined: not known yet. */
export interface OverlayFacts {
  readonly uses: readonly Use[] | undefined
  readonly outlook: Outlook | undefined
  readonly noReturn: readonly NoReturn[] | 'too many' | undefined
  /** Why one of the two is not known. */
  readonly trouble: string | undefined
  readonly players: SimulationResult | undefined
  readonly playtests: PlaytestFigures | undefined
  readonly findings: readonly Finding[]
}

const LOOKING: Overlay = { says: 'Looking …', legend: [], beat: () => undefined }

function looking({ trouble }: OverlayFacts): Overlay {
  return trouble === undefined ? LOOKING : { ...LOOKING, says: `This could not be worked out: ${trouble}.` }
}

/** The overlay of an id; `of`: the entry, ending, person or language that it is about. */
export function overlayOf(
  id: OverlayId,
  of: string | undefined,
  words: ChartWords,
  facts: OverlayFacts,
): Overlay | undefined {
  switch (id) {
    case 'none':
    case 'rehearsal':
    case 'route':
      return undefined
    case 'entry':
      return of === undefined ? undefined : facts.uses === undefined ? LOOKING : usesOverlay(words, of, facts.uses)
    case 'ending':
      return of === undefined
        ? undefined
        : facts.outlook === undefined
          ? looking(facts)
          : endingOverlay(words, of, facts.outlook, facts.noReturn)
    case 'no-return':
      return facts.noReturn === undefined ? looking(facts) : noReturnOverlay(words, facts.noReturn)
    case 'players':
      return facts.players === undefined ? LOOKING : playersOverlay(words, facts.players, 'playthrough')
    case 'playtests':
      return facts.playtests === undefined ? LOOKING : playersOverlay(words, facts.playtests, 'recorded playtest')
    case 'findings':
      return findingsOverlay(words, facts.findings)
    case 'todos':
      return amounts(
        words,
        todosAt(words),
        (sum, beats) => `${said(sum, 'to-do')} at ${said(beats, 'beat')}.`,
        'to-dos',
      )
    case 'words':
      return amounts(
        words,
        (beat) => wordsAt(words, beat),
        (sum, beats) => `${said(sum, 'word')} in ${said(beats, 'beat')}.`,
        'words written',
      )
    case 'person':
      return of === undefined ? undefined : personOverlay(words, of)
    case 'language':
      return of === undefined ? undefined : languageOverlay(words, of)
  }
}

/** By beats: marks at each index. */
function indexes({ chart }: ChartWords, addresses: Iterable<string>): Set<number> {
  const wanted = new Set<string>()
  for (const address of addresses) wanted.add(beatOf(address) ?? address)
  const found = new Set<number>()
  chart.beats.forEach((address, index) => wanted.has(address) && found.add(index))
  return found
}

/** Where an entry or a quest (`quest.…`) is read and where changed; and where it is read though nothing can have changed it. */
function usesOverlay(words: ChartWords, of: string, uses: readonly Use[]): Overlay {
  const name = of.startsWith('quest.') ? storyNames(words.story).quest(of.slice(6)) : entryName(words.story, of)
  const read = indexes(
    words,
    uses.filter(({ how }) => how === 'read').map(({ address }) => address),
  )
  const changed = indexes(
    words,
    uses.filter(({ how }) => how === 'write').map(({ address }) => address),
  )
  const after = reachableFrom(words, changed)
  const late = new Set([...read].filter((beat) => !after.has(beat) && !changed.has(beat)))
  const early = late.size === 0 ? '' : ` ${late.size} read it where no change can have come before.`
  return {
    says: `“${name}” is read at ${said(read.size, 'beat')} and changed at ${changed.size}.${early}`,
    legend: [
      { shape: 'ring', words: 'read' },
      { shape: 'square', words: 'changed' },
      { shape: 'both', words: 'read and changed' },
      ...(late.size === 0 ? [] : [{ shape: 'late' as const, words: 'read before any change' }]),
    ],
    beat: (beat): Sign | undefined => {
      const [reads, changes] = [read.has(beat), changed.has(beat)]
      if (reads && changes) return { shape: 'both' }
      if (late.has(beat)) return { shape: 'late' }
      return reads ? { shape: 'ring' } : changes ? { shape: 'square' } : undefined
    },
  }
}

/** Every beat that roads lead to from some, along those that may be taken. */
function reachableFrom({ chart: { roads, taken } }: ChartWords, from: ReadonlySet<number>): Set<number> {
  const out = new Map<number, number[]>()
  for (let road = 0; road < roads.count; road += 1) {
    if (taken[road] === TAKEN.never || roads.to[road] === NO_BEAT) continue
    const list = out.get(roads.from[road]!)
    if (list === undefined) out.set(roads.from[road]!, [roads.to[road]!])
    else list.push(roads.to[road]!)
  }
  const found = new Set<number>()
  const work = [...from]
  while (work.length > 0)
    for (const to of out.get(work.pop()!) ?? [])
      if (!found.has(to)) {
        found.add(to)
        work.push(to)
      }
  return found
}

function endingOverlay(
  words: ChartWords,
  ending: string,
  outlook: Outlook,
  noReturn: OverlayFacts['noReturn'],
): Overlay {
  const name = storyNames(words.story).ending(ending)
  const lost = Array.isArray(noReturn)
    ? (noReturn as readonly NoReturn[]).filter((one) => one.always.includes(ending) || one.sometimes.includes(ending))
    : []
  const at = indexes(
    words,
    lost.map(({ address }) => address),
  )
  const { chart } = words
  const known = sharesOf(outlook, ending)
  const shares = chart.beats.map((address, beat) => (chart.inMargin[beat] === 1 ? undefined : known.get(address)))
  const count = (share: Share) => shares.filter((one) => one === share).length
  const losing = lost.length === 0 ? '' : ` It is lost at ${said(lost.length, 'decision')}.`
  return {
    says: `${name} can be reached in every case from ${said(count('all'), 'beat')}, in some cases from ${count('some')}, from ${count('none')} no more.${losing}`,
    legend: [
      { shape: 'full', words: 'in every case' },
      { shape: 'half', words: 'in some cases' },
      { shape: 'struck', words: 'no more' },
      ...(lost.length === 0 ? [] : [{ shape: 'wedge' as const, words: 'a decision here can lose it' }]),
    ],
    beat: (beat): Sign | undefined => {
      if (at.has(beat)) return { shape: 'wedge' }
      const share = shares[beat]
      return share === undefined
        ? undefined
        : { shape: share === 'all' ? 'full' : share === 'some' ? 'half' : 'struck' }
    },
  }
}

/** How an ending stands, by beat; an outlook is of the story that it was asked of. */
function sharesOf({ beats, endings, shares }: Outlook, ending: string): Map<string, Share | undefined> {
  const at = endings.indexOf(ending)
  return new Map(beats.map((address, beat) => [address, SHARES[shares[beat * endings.length + at] ?? 0]]))
}

function noReturnOverlay(words: ChartWords, noReturn: NonNullable<OverlayFacts['noReturn']>): Overlay {
  if (noReturn === 'too many') return { ...LOOKING, says: 'Too much is open at once to look at every case.' }
  const at = new Map<number, NoReturn[]>()
  for (const point of noReturn)
    for (const beat of indexes(words, [point.address])) at.set(beat, [...(at.get(beat) ?? []), point])
  const names = storyNames(words.story)
  return {
    says:
      noReturn.length === 0
        ? 'No decision closes an ending.'
        : `${said(noReturn.length, 'decision')} at ${said(at.size, 'beat')} can close endings.`,
    legend: [{ shape: 'wedge', words: 'a decision here can close an ending' }],
    beat: (beat) => {
      const points = at.get(beat)
      if (points === undefined) return undefined
      const closed = new Set(points.flatMap((point) => [...point.always, ...point.sometimes]))
      return { shape: 'wedge', words: `closes ${[...closed].map((one) => names.ending(one)).join(', ')}` }
    },
  }
}

const BROADEST = 12

function playersOverlay(
  words: ChartWords,
  { beats, choices, plays }: Pick<PlaytestFigures, 'beats' | 'choices' | 'plays'>,
  played: string,
): Overlay {
  const { chart } = words
  const percent = (share: number) =>
    `${share >= 0.1 || share === 0 ? Math.round(share * 100) : (share * 100).toFixed(1)} %`
  const met = chart.beats.filter((address) => (beats[address]?.plays ?? 0) > 0).length
  return {
    says:
      plays === 0
        ? `There is no ${played} yet.`
        : `Of ${said(plays, played)} some come by ${met} of ${said(chart.beats.length, 'beat')}; roads are as broad as the share of those who take them.`,
    legend: [
      { shape: 'amount', words: 'share of players who come by' },
      { shape: 'line', words: 'share of players who take it' },
    ],
    beat: (beat) => {
      const share = beats[chart.beats[beat]!]?.share ?? 0
      return share === 0 ? undefined : { shape: 'amount', size: share, words: percent(share) }
    },
    road: (road) => {
      const { choice, address } = words.written(road)
      const own = choice === undefined ? undefined : choices[address.split('#')[0]!]
      const to = chart.roads.to[road]!
      const share =
        own?.share ??
        (to === NO_BEAT
          ? 0
          : Math.min(...[chart.roads.from[road]!, to].map((beat) => beats[chart.beats[beat]!]?.share ?? 0)))
      return share === 0 ? { width: 0.6 } : { width: 0.8 + BROADEST * share, words: percent(share) }
    },
  }
}

function findingsOverlay(words: ChartWords, findings: readonly Finding[]): Overlay {
  const at = new Map<string, Finding[]>()
  for (const finding of findings)
    for (const beat of new Set(finding.key.flatMap((part) => beatOf(part) ?? [])))
      at.set(beat, [...(at.get(beat) ?? []), finding])
  const worst = (list: readonly Finding[]) =>
    list.some(({ level }) => level === 'error')
      ? 'late'
      : list.some(({ level }) => level === 'warning')
        ? 'square'
        : 'ring'
  return {
    says:
      findings.length === 0 ? 'Nothing was found.' : `${said(findings.length, 'finding')} at ${said(at.size, 'beat')}.`,
    legend: [
      { shape: 'late', words: 'an error' },
      { shape: 'square', words: 'a warning' },
      { shape: 'ring', words: 'a note' },
    ],
    beat: (beat) => {
      const list = at.get(words.chart.beats[beat]!)
      return list && { shape: worst(list), ...(list.length > 1 ? { words: String(list.length) } : {}) }
    },
  }
}

function todosAt(words: ChartWords): (beat: number) => number {
  return (index) => {
    const beat = words.beat(index)
    if (beat === undefined) return 0
    return [beat, ...linesOf(beat), ...(beat.choices ?? [])].filter(({ notes }) => isTodo(notes)).length
  }
}

function wordsAt(words: ChartWords, index: number): number {
  const beat = words.beat(index)
  return beat === undefined ? 0 : wordsOfBeat(beat, words.story.language)
}

function personOverlay(words: ChartWords, person: string): Overlay {
  const name = words.story.cast?.find(({ id }) => id === person)?.name ?? person
  return amounts(
    words,
    (index) => {
      const beat = words.beat(index)
      return beat === undefined ? 0 : linesOf(beat).filter(({ speaker }) => speaker === person).length
    },
    (sum, beats) => `${name} says ${said(sum, 'line')} at ${said(beats, 'beat')}.`,
    'lines',
  )
}

/** Texts of a beat that have nothing in a language; a line without a short name can have none. */
function languageOverlay(words: ChartWords, language: string): Overlay {
  const texts = words.story.languages?.[language]?.texts ?? {}
  const missing = (index: number) => {
    const beat = words.beat(index)
    if (beat === undefined) return 0
    const address = words.chart.beats[index]!
    const keys = [
      ...linesOf(beat).map(({ id }) => (id === undefined ? '' : `line/${address}/${id}`)),
      ...(beat.choices ?? []).map(({ id }) => `choice/${address}.${id}`),
      ...(beat.ask === undefined ? [] : [`prompt/${address}`]),
    ]
    return keys.filter((key) => texts[key] === undefined).length
  }
  return amounts(
    words,
    missing,
    (sum, beats) => `${said(sum, 'text')} at ${said(beats, 'beat')} are missing in ${language}.`,
    'texts missing',
  )
}

/** A number at each beat, drawn as the area of a disc. */
function amounts(
  { chart }: ChartWords,
  of: (beat: number) => number,
  says: (sum: number, beats: number) => string,
  what: string,
): Overlay {
  const values = chart.beats.map((_, beat) => of(beat))
  const most = values.reduce((max, value) => Math.max(max, value), 1)
  const sum = values.reduce((total, value) => total + value, 0)
  return {
    says: says(sum, values.filter((value) => value > 0).length),
    legend: [{ shape: 'amount', words: `${what}, at most ${most.toLocaleString('en')}` }],
    beat: (beat) => {
      const value = values[beat]!
      return value === 0 ? undefined : { shape: 'amount', size: value / most, words: value.toLocaleString('en') }
    },
  }
}
