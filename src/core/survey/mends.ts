import { printExpression } from '../expression/print'
import type { CompareOp, Expr } from '../expression/ast'
import type { Change } from '../story/changes/types'
import { cachedExpression } from '../story/link-parts'
import { isGroup, type Beat, type Story } from '../story/types'
import { mapped, patch, Rewriter } from '../story/rename/rewrite'
import type { Finding } from './result'

/** An edit that is meant to mend a finding, and what it does. Whether it does is for a survey to say. */
export interface Mend {
  readonly says: string
  readonly change: Change
}

interface Place {
  readonly scene: string
  readonly at: number
  readonly beat: Beat
  /** What stands behind the beat's address: `.choice`, `#line2.variant1`, … */
  readonly rest: string
}

/** What is likely to mend a finding; undefined where it is the designer's to decide. */
export function mendOf(story: Story, { kind, key }: Finding): Mend | undefined {
  const place = placeOf(story, key[0] ?? '')
  if (place === undefined) return undefined
  switch (kind) {
    case 'unreached':
      return lastVariant(place) ?? steppedOver(story, place)
    case 'dead-end':
      return wayOn(story, place)
    case 'always-open':
      return withoutGate(place)
    default:
      return undefined
  }
}

function placeOf(story: Story, address: string): Place | undefined {
  const match = /^([a-z]\w*)\.([a-z]\w*)(.*)$/.exec(address)
  const scene = story.scenes.find(({ id }) => id === match?.[1])
  const at = scene?.beats.findIndex(({ id }) => id === match?.[2]) ?? -1
  return scene === undefined || at === -1 ? undefined : { scene: scene.id, at, beat: scene.beats[at]!, rest: match![3]! }
}

function replaced({ scene, at, beat }: Place, item: Beat): Change {
  return { op: 'replace', in: { list: 'beats', scene }, id: beat.id, at, item }
}

/** A variant without a condition hides all that come after it: it belongs last. */
function lastVariant(place: Place): Mend | undefined {
  const match = /^#line(\d+)\.variant(\d+)$/.exec(place.rest)
  if (match === null) return undefined
  const index = Number(match[1]) - 1
  const group = place.beat.lines?.[index]
  if (group === undefined || !isGroup(group)) return undefined
  const first = group.firstOf.findIndex((variant) => variant.when === undefined)
  if (first === -1 || first >= Number(match[2]) - 1) return undefined
  const firstOf = [...group.firstOf.filter((_, at) => at !== first), group.firstOf[first]!]
  const lines = place.beat.lines!.map((line, at) => (at === index ? { ...group, firstOf } : line))
  return { says: 'put the variant that always holds last', change: replaced(place, { ...place.beat, lines }) }
}

/** A beat whose only ways on have gates gets the last of them without one; one without any goes back to the place. */
function wayOn(story: Story, place: Place): Mend | undefined {
  const { beat } = place
  const last = beat.onward?.at(-1)
  const to = last?.to ?? (beat.choices === undefined && beat.ask === undefined && story.scenes.some((scene) => scene.beats.some((one) => one.place === true)) ? 'return' : undefined)
  if (to === undefined || to === '' || (last !== undefined && last.when === undefined)) return undefined
  const says = to === 'return' ? 'let it go back to the place' : `let it go on to ${to.replace('.', ' · ').replaceAll('_', ' ')} otherwise`
  return { says, change: replaced(place, { ...beat, onward: [...(beat.onward ?? []), { to }] }) }
}

/** A gate that never closes anything. */
function withoutGate(place: Place): Mend | undefined {
  const found = withWhen(place, () => undefined)
  return found && { says: 'take the gate away', change: replaced(place, found) }
}

/** A count that is tested with == and steps over the number, because it only ever rises or only ever falls. */
function steppedOver(story: Story, place: Place): Mend | undefined {
  let says: string | undefined
  const turn = (expr: Expr): Expr => {
    if (expr.kind === 'and') return patch(expr, { left: turn(expr.left), right: turn(expr.right) })
    if (expr.kind !== 'compare' || expr.op !== '==' || expr.left.kind !== 'entry' || expr.right.kind !== 'int') return expr
    const op = direction(story, expr.left.id)
    if (op === undefined) return expr
    says = `ask for ${expr.left.id.replaceAll('_', ' ')} ${op} ${expr.right.value}: it steps over ${expr.right.value}`
    return { ...expr, op }
  }
  const found = withWhen(place, (when) => {
    const parsed = cachedExpression(when)
    return parsed.ok ? printExpression(turn(parsed.value)) : when
  })
  return found === undefined || says === undefined ? undefined : { says, change: replaced(place, found) }
}

/** Which comparison a count that steps over a number has to be asked by; undefined when it both rises and falls, or never by more than one. */
function direction(story: Story, entry: string): CompareOp | undefined {
  let up = false
  let down = false
  let wide = false
  new Rewriter({
    effect: (effect) => {
      if (effect.kind === 'stage' || effect.entry !== entry) return effect
      const by = effect.value.kind === 'int' ? effect.value.value : 2
      wide ||= by > 1
      if (effect.kind === 'add') up = true
      else if (effect.kind === 'subtract') down = true
      else up = down = true
      return effect
    },
  }).changes(story)
  return !wide || up === down ? undefined : up ? '>=' : '<='
}

/** The beat with the `when` of the part changed; undefined where there is none. */
function withWhen({ beat, rest }: Place, change: (when: string) => string | undefined): Beat | undefined {
  let changed = false
  const on = <T extends object>(owner: T): T => {
    const { when } = owner as { when?: string }
    if (when === undefined) return owner
    const next = change(when)
    if (next === when) return owner
    changed = true
    const copy = { ...owner, when: next } as T & { when?: string }
    if (next === undefined) delete copy.when
    return copy
  }
  const at = <T extends object>(list: T[] | undefined, number: number) => list && mapped(list, (one) => (one === list[number - 1] ? on(one) : one))
  const rule = /^#(redirect|arrive|onward)(\d+)$/.exec(rest)
  const choice = /^\.([a-z]\w*)(?:#(\d+))?$/.exec(rest)
  const line = /^#line(\d+)(?:\.variant(\d+))?(?:\.line(\d+))?$/.exec(rest)
  let next = beat
  if (rule?.[1] === 'redirect') next = patch(beat, { redirects: at(beat.redirects, Number(rule[2])) })
  else if (rule?.[1] === 'arrive') next = patch(beat, { arrive: at(beat.arrive, Number(rule[2])) })
  else if (rule?.[1] === 'onward') next = patch(beat, { onward: at(beat.onward, Number(rule[2])) })
  else if (choice !== null) {
    const choices = beat.choices && mapped(beat.choices, (one) => {
      if (one.id !== choice[1]) return one
      if (choice[2] === undefined) return on(one)
      return typeof one.to === 'string' ? one : { ...one, to: at(one.to, Number(choice[2]))! }
    })
    next = patch(beat, { choices })
  } else if (line !== null) {
    const lines = beat.lines && mapped(beat.lines, (one) => {
      if (one !== beat.lines![Number(line[1]) - 1]) return one
      if (!isGroup(one)) return on(one)
      const firstOf = mapped(one.firstOf, (variant) => {
        if (variant !== one.firstOf[Number(line[2]) - 1]) return variant
        return line[3] === undefined ? on(variant) : { ...variant, lines: at(variant.lines, Number(line[3]))! }
      })
      return { ...one, firstOf }
    })
    next = patch(beat, { lines })
  }
  return changed ? next : undefined
}
