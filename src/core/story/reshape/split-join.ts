import { freshId } from '../../base/ids'
import { fail, ok, type Result } from '../../base/result'
import type { Change } from '../changes/types'
import { Rewriter } from '../rename/rewrite'
import { linesOf, plainLinesIn, withPlainLines, type Beat, type Story } from '../types'

interface Where {
  readonly scene: string
  readonly id: string
}

/**
 * One change that makes the lines from `line` on, and what follows the lines, a beat of their own
 * to which the first goes on by itself: the story plays as before.
 */
export function splitBeat(
  story: Story,
  { scene, id }: Where,
  line: number,
): Result<{ readonly change: Change; readonly id: string }> {
  const beats = story.scenes.find((one) => one.id === scene)?.beats ?? []
  const at = beats.findIndex((beat) => beat.id === id)
  const beat = beats[at]
  if (beat === undefined) return fail('the beat is not there any more')
  const next = freshId(`${id}_2`, (taken) => beats.some((other) => other.id === taken))
  const lines = beat.lines ?? []
  const first: Beat = { id }
  const second: Beat = { id: next }
  for (const [key, value] of Object.entries(beat) as [keyof Beat, never][]) {
    if (key === 'id' || key === 'lines') continue
    if (key === 'choices' || key === 'ask' || key === 'ending' || key === 'onward') second[key] = value
    else first[key] = value
  }
  if (line > 0) first.lines = lines.slice(0, line)
  if (line < lines.length) second.lines = lines.slice(line)
  first.onward = [{ to: `${scene}.${next}` }]
  const path = { list: 'beats', scene } as const
  const moved = new Set(lines.slice(line).flatMap((one) => plainLinesIn(one).flatMap((plain) => plain.line.id ?? [])))
  const follow = partsFrom(`${scene}.${id}`, `${scene}.${next}`, (one) => (moved.has(one) ? one : undefined))
  const others = follow.changes(story).filter(isOther(scene, id))
  return ok({
    id: next,
    change: {
      op: 'batch',
      changes: [
        ...others,
        { op: 'replace', in: path, id, at, item: follow.beat(first) },
        { op: 'insert', in: path, at: at + 1, item: follow.beat(second) },
      ],
    },
  })
}

/** One change that takes the beat to which another one simply goes on into it; refused where the story would play differently. */
export function joinBeats(story: Story, { scene, id }: Where): Result<Change> {
  const beats = story.scenes.find((one) => one.id === scene)?.beats ?? []
  const at = beats.findIndex((beat) => beat.id === id)
  const beat = beats[at]
  if (beat === undefined) return fail('the beat is not there any more')
  const [road] = beat.onward ?? []
  if (
    beat.onward?.length !== 1 ||
    beat.choices !== undefined ||
    beat.ask !== undefined ||
    road!.when !== undefined ||
    road!.do !== undefined
  ) {
    return fail(
      'only a beat that goes on by itself, without a gate or an effect on the way, can be joined with the next',
    )
  }
  const next = beats.find((other) => `${scene}.${other.id}` === road!.to)
  if (next === undefined || next === beat) return fail('the next beat is in another scene, or not written yet')
  if (next.place === true || next.redirects !== undefined || next.arrive !== undefined)
    return fail(
      `“${next.id}” is a place, sends elsewhere or does something on arrival, so it has to stay a beat of its own`,
    )
  const named = new Rewriter({
    address: (address) => (address === `${scene}.${next.id}` ? '' : address),
    asked: (address) => address,
  })
  named.changes(story)
  if (named.count > 1)
    return fail(`other roads, gates or routes name “${next.id}”, so it has to stay a beat of its own`)
  // of two lines of one name the later gets another
  const taken = new Set(linesOf(beat).flatMap((one) => one.id ?? []))
  const names = new Map<string, string>()
  for (const { id: own } of linesOf(next)) {
    if (own === undefined || names.has(own)) continue
    names.set(
      own,
      freshId(own, (one) => taken.has(one)),
    )
    taken.add(names.get(own)!)
  }
  const renamed = (next.lines ?? []).map((one) =>
    withPlainLines(one, (plain) => (plain.id === undefined ? plain : { ...plain, id: names.get(plain.id)! })),
  )
  const lines = [...(beat.lines ?? []), ...renamed]
  const joined: Beat = { ...beat, ...next, id, ...(lines.length === 0 ? {} : { lines }) }
  if (next.onward === undefined) delete joined.onward
  const noted = [beat.notes, next.notes].filter((note) => note !== undefined && note !== '')
  if (noted.length > 0) joined.notes = noted.join('\n')
  const path = { list: 'beats', scene } as const
  const follow = partsFrom(`${scene}.${next.id}`, `${scene}.${id}`, (one) => names.get(one))
  const others = follow.changes(story).filter(isOther(scene, id, next.id))
  return ok({
    op: 'batch',
    changes: [
      ...others,
      { op: 'replace', in: path, id, at, item: follow.beat(joined) },
      { op: 'remove', in: path, id: next.id, at: beats.indexOf(next) },
    ],
  })
}

/** Follows the choices, the question and some lines of one beat to another; the beat itself is named as before. `line`: what a line that goes along is called there. */
function partsFrom(before: string, after: string, line: (id: string) => string | undefined): Rewriter {
  const key = (one: string): string => {
    const [kind, address, rest] = one.split('/')
    if (address !== before) return one
    if (kind === 'prompt') return `prompt/${after}`
    if (kind === 'suggest') return `suggest/${after}/${rest}`
    const own = kind === 'line' ? line(rest ?? '') : undefined
    return own === undefined ? one : `line/${after}/${own}`
  }
  const choice = (address: string) =>
    address.startsWith(`${before}.`) ? after + address.slice(before.length) : address
  return new Rewriter({ address: choice, asked: (address) => (address === before ? after : address), key })
}

function isOther(scene: string, ...ids: string[]): (change: Change) => boolean {
  return (change) =>
    !(change.op === 'replace' && change.in.list === 'beats' && change.in.scene === scene && ids.includes(change.id))
}
