import { idTrouble } from '../base/ids'
import { fail, ok, type Result } from '../base/result'
import type { Effect, Expr } from '../expression/ast'
import { printEffect, printExpression } from '../expression/print'
import type { Change } from './changes/types'
import { cachedEffect, cachedExpression } from './link-parts'
import { isGroup, type Beat, type Decision, type Line, type PlainLine, type Rule, type Story } from './types'

/** One change that renames a beat and everything that names it: roads, gates, effects, promises, routes, the start. */
export function renameBeat(story: Story, scene: string, from: string, to: string): Result<Change> {
  const trouble = idTrouble(to)
  if (trouble !== undefined) return fail(trouble)
  const beats = story.scenes.find(({ id }) => id === scene)?.beats ?? []
  if (beats.some(({ id }) => id === to)) return fail(`there is a beat "${to}" in this scene already`)
  const rename = new Renaming(`${scene}.${from}`, `${scene}.${to}`)
  const changes: Change[] = []
  for (const one of story.scenes) {
    one.beats.forEach((beat, at) => {
      const own = one.id === scene && beat.id === from ? { ...beat, id: to } : beat
      const item = rename.beat(own)
      if (item !== beat) changes.push({ op: 'replace', in: { list: 'beats', scene: one.id }, id: beat.id, at, item })
    })
  }
  story.promises?.forEach((promise, at) => {
    const item = rename.conditions(promise, ['holds', 'while', 'first', 'then'])
    if (item !== promise) changes.push({ op: 'replace', in: { list: 'promises' }, id: promise.id, at, item })
  })
  story.routes?.forEach((route, at) => {
    const decisions = same(route.decisions, (decision) => rename.decision(decision))
    if (decisions !== route.decisions) changes.push({ op: 'replace', in: { list: 'routes' }, id: route.id, at, item: { ...route, decisions } })
  })
  if (story.start === `${scene}.${from}`) changes.push({ op: 'set-story', values: { start: `${scene}.${to}` } })
  return ok({ op: 'batch', changes })
}

/** Rewrites what names a beat; whatever names nothing comes back as the same object. */
class Renaming {
  constructor(
    private readonly from: string,
    private readonly to: string,
  ) {}

  beat(beat: Beat): Beat {
    const rules = (list: Rule[] | undefined) => list && same(list, (rule) => this.rule(rule))
    return patch(beat, {
      redirects: rules(beat.redirects),
      arrive: beat.arrive && same(beat.arrive, (rule) => this.owner(rule)),
      lines: beat.lines && same(beat.lines, (line) => this.line(line)),
      choices:
        beat.choices &&
        same(beat.choices, (choice) =>
          patch(this.owner(choice), { to: typeof choice.to === 'string' ? this.address(choice.to) : same(choice.to, (rule) => this.rule(rule)) }),
        ),
      onward: rules(beat.onward),
    })
  }

  conditions<T extends object>(object: T, keys: readonly string[]): T {
    const texts = object as Record<string, unknown>
    const next: Record<string, unknown> = {}
    for (const key of keys) if (typeof texts[key] === 'string') next[key] = this.condition(texts[key])
    return patch(object, next as Partial<T>)
  }

  decision(decision: Decision): Decision {
    return 'choice' in decision ? patch(decision, { choice: this.address(decision.choice) }) : patch(decision, { at: this.address(decision.at) })
  }

  private line(line: Line): Line {
    if (!isGroup(line)) return this.owner(line)
    const firstOf = same(line.firstOf, (variant) =>
      patch(this.conditions(variant, ['when']), { lines: same(variant.lines, (inner): PlainLine => this.owner(inner)) }),
    )
    return patch(line, { firstOf })
  }

  private rule(rule: Rule): Rule {
    return patch(this.owner(rule), { to: this.address(rule.to) })
  }

  private owner<T extends { do?: string[] | undefined }>(owner: T): T {
    const renamed = this.conditions(owner, ['when'])
    return renamed.do === undefined ? renamed : patch(renamed, { do: same(renamed.do, (effect) => this.effect(effect)) } as Partial<T>)
  }

  private address(address: string): string {
    if (address === this.from) return this.to
    return address.startsWith(`${this.from}.`) ? this.to + address.slice(this.from.length) : address
  }

  private condition(source: string): string {
    if (!source.includes(this.from)) return source
    const parsed = cachedExpression(source)
    if (!parsed.ok) return source
    const expr = this.expr(parsed.value)
    return expr === parsed.value ? source : printExpression(expr)
  }

  private effect(source: string): string {
    if (!source.includes(this.from)) return source
    const parsed = cachedEffect(source)
    if (!parsed.ok) return source
    const value = this.expr(parsed.value.value)
    return value === parsed.value.value ? source : printEffect({ ...parsed.value, value } as Effect)
  }

  private expr(expr: Expr): Expr {
    switch (expr.kind) {
      case 'visits':
      case 'at':
        return patch(expr, { beat: this.address(expr.beat) })
      case 'taken':
        return patch(expr, { choice: this.address(expr.choice) })
      case 'not':
      case 'negate':
        return patch(expr, { operand: this.expr(expr.operand) })
      case 'and':
      case 'or':
      case 'compare':
      case 'arithmetic':
        return patch(expr, { left: this.expr(expr.left), right: this.expr(expr.right) })
      case 'in':
        return patch(expr, { left: this.expr(expr.left), items: same(expr.items, (item) => this.expr(item)) })
      default:
        return expr
    }
  }
}

/** The list with every item changed; the same list when no item did. */
function same<T, L extends readonly T[]>(items: L, change: (item: L[number]) => T): L {
  const next = items.map(change)
  return next.every((item, at) => item === items[at]) ? items : (next as unknown as L)
}

/** The object with some keys set; the same object when nothing differs. */
function patch<T extends object>(object: T, keys: Partial<T>): T {
  const changed = (Object.keys(keys) as (keyof T)[]).filter((key) => keys[key] !== object[key])
  if (changed.length === 0) return object
  const next = { ...object }
  for (const key of changed) next[key] = keys[key]!
  return next
}
