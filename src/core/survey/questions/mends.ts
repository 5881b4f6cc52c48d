import type { Slices } from '../../base/slices'
import { parseAddress, type Address } from '../../base/address'
import { printExpression } from '../../expression/print'
import { nearlySame } from '../../base/near-names'
import { walk, type CompareOp, type Expr } from '../../expression/ast'
import { applyChange } from '../../story/changes/apply'
import type { Change } from '../../story/changes/types'
import { cachedExpression } from '../../story/link-parts'
import { isGroup, type Beat, type Story } from '../../story/types'
import { patch, Rewriter } from '../../story/rename/rewrite'
import { patchPart } from '../../story/reshape/patch-part'
import { surveyDifference } from './difference'
import { nameOfFinding, type Finding } from '../findings/finding'
import type { SurveyResult } from '../result'
import type { Survey } from '../survey'
import { whyNot } from './why-not'

/** An edit that is meant to mend a finding, and what it does. Whether it does is for a survey to say. */
export interface Mend {
  readonly says: string
  readonly change: Change
}

interface Place {
  readonly scene: string
  readonly at: number
  readonly beat: Beat
  /** Where in the beat. */
  readonly address: Address
}

/** What could mend a finding, likeliest first; nothing where it is the designer's to decide. */
export function mendsOf(story: Story, finding: Finding, survey?: Survey): Mend[] {
  const { kind, key } = finding
  if (kind === 'undeclared-move') return declaredMove(story, key)
  const place = placeOf(story, kind === 'overrun' ? key[1]! : (key[0] ?? ''))
  if (place === undefined) return []
  const some = (mend: Mend | undefined) => (mend === undefined ? [] : [mend])
  switch (kind) {
    case 'unreached':
      return [...some(lastVariant(place)), ...steppedOver(story, place, key[0]!, survey)]
    case 'dead-end':
      return some(wayOn(story, place))
    case 'always-open':
      return some(withoutGate(place))
    case 'problem':
      return key[1] === 'when' ? slipOfTheNib(story, place) : []
    case 'overrun':
      return some(onlyOnce(place))
    case 'endless-run':
    case 'left-open':
    case 'no-way-out':
    case 'promise-broken':
    case 'route-broken':
    case 'stranded-stage':
    case 'unread':
    case 'unset-text':
    case 'unwritten':
      return []
  }
}

/** The first mend that, by a survey of the mended story, settles the finding and brings no further error. */
export function* provenMend(
  story: Story,
  finding: Finding,
  survey: Survey | undefined,
  before: SurveyResult,
  surveyed: (story: Story) => Slices<SurveyResult>,
): Slices<Mend | undefined> {
  const name = nameOfFinding(finding)
  const isThis = (other: Finding) => nameOfFinding(other) === name
  const errors = (list: readonly Finding[]) => list.filter((one) => one.level === 'error' && !isThis(one)).length
  for (const mend of mendsOf(story, finding, survey)) {
    const applied = applyChange(story, mend.change)
    if (!applied.ok) continue
    const after = yield* surveyed(applied.value.story)
    const { settled, appeared } = surveyDifference(before, after)
    // an error that was there before may only have got another address
    if (after.complete && settled.some(isThis) && errors(appeared) <= errors(settled)) return mend
  }
  return undefined
}

/** A move that an effect makes and the quest does not have. */
function declaredMove(story: Story, [id, from, to]: readonly string[]): Mend[] {
  const at = story.quests?.findIndex((quest) => quest.id === id) ?? -1
  const quest = story.quests?.[at]
  if (quest?.moves === undefined) return []
  const item = { ...quest, moves: [...quest.moves, [from!, to!] as [string, string]] }
  return [
    { says: 'let the quest have this move', change: { op: 'replace', in: { list: 'quests' }, id: quest.id, at, item } },
  ]
}

/** An entry that does not exist, where one is called nearly the same. */
function slipOfTheNib(story: Story, place: Place): Mend[] {
  const scene = story.scenes.find(({ id }) => id === place.scene)
  const known = [...(story.ledger ?? []), ...(scene?.ledger ?? [])].map(({ id }) => id)
  const slips = new Map<string, readonly string[]>()
  withWhen(place, (when) => {
    const parsed = cachedExpression(when)
    if (parsed.ok)
      walk(
        parsed.value,
        (part) =>
          void (
            part.kind === 'entry' &&
            !known.includes(part.id) &&
            slips.set(
              part.id,
              known.filter((id) => nearlySame(id, part.id)),
            )
          ),
      )
    return when
  })
  const [slip] = slips
  if (slips.size !== 1 || slip === undefined) return []
  const [wrong, meant] = slip
  return meant.flatMap((right): Mend[] => {
    const rewriter = new Rewriter({
      expr: (part) => (part.kind === 'entry' && part.id === wrong ? { ...part, id: right } : part),
    })
    const found = withWhen(place, (when) => rewriter.condition(when))
    return found === undefined
      ? []
      : [
          {
            says: `write ${right.replaceAll('_', ' ')} for ${wrong.replaceAll('_', ' ')}`,
            change: replaced(place, found),
          },
        ]
  })
}

/** A choice that adds to something each time it is taken, beyond what there is room for. */
function onlyOnce(place: Place): Mend | undefined {
  const { choice: id, steps } = place.address
  if (id === undefined || steps.length > 0) return undefined
  const choices = place.beat.choices?.map((choice) =>
    choice.id === id && choice.once !== true ? { ...choice, once: true } : choice,
  )
  if (choices === undefined || choices.every((choice, at) => choice === place.beat.choices![at])) return undefined
  return { says: 'let it be taken once', change: replaced(place, { ...place.beat, choices }) }
}

function placeOf(story: Story, address: string): Place | undefined {
  const parts = parseAddress(address)
  const scene = story.scenes.find(({ id }) => id === parts?.scene)
  const at = scene?.beats.findIndex(({ id }) => id === parts?.beat) ?? -1
  return scene === undefined || at === -1 ? undefined : { scene: scene.id, at, beat: scene.beats[at]!, address: parts! }
}

function replaced({ scene, at, beat }: Place, item: Beat): Change {
  return { op: 'replace', in: { list: 'beats', scene }, id: beat.id, at, item }
}

/** A variant without a condition hides all that come after it: it belongs last. */
function lastVariant(place: Place): Mend | undefined {
  const [line, variant, ...inner] = place.address.steps
  if (line?.of !== 'line' || variant?.of !== 'variant' || inner.length > 0) return undefined
  const index = line.number - 1
  const group = place.beat.lines?.[index]
  if (group === undefined || !isGroup(group)) return undefined
  const first = group.firstOf.findIndex((variant) => variant.when === undefined)
  if (first === -1 || first >= variant.number - 1) return undefined
  const firstOf = [...group.firstOf.filter((_, at) => at !== first), group.firstOf[first]!]
  const lines = place.beat.lines!.map((line, at) => (at === index ? { ...group, firstOf } : line))
  return { says: 'put the variant that always holds last', change: replaced(place, { ...place.beat, lines }) }
}

/** A beat whose only ways on have gates gets the last of them without one; one without any goes back to the place. */
function wayOn(story: Story, place: Place): Mend | undefined {
  const { beat } = place
  const last = beat.onward?.at(-1)
  const to =
    last?.to ??
    (beat.choices === undefined &&
    beat.ask === undefined &&
    story.scenes.some((scene) => scene.beats.some((one) => one.place === true))
      ? 'return'
      : undefined)
  if (to === undefined || to === '' || (last !== undefined && last.when === undefined)) return undefined
  const says =
    to === 'return'
      ? 'let it go back to the place'
      : `let it go on to ${to.replace('.', ' · ').replaceAll('_', ' ')} otherwise`
  return { says, change: replaced(place, { ...beat, onward: [...(beat.onward ?? []), { to }] }) }
}

/** A gate that never closes anything. */
function withoutGate(place: Place): Mend | undefined {
  const found = withWhen(place, () => undefined)
  return found && { says: 'take the gate away', change: replaced(place, found) }
}

/** A count that is tested with == and steps over the number: asked for by its direction, or by the nearest number that occurs. */
function steppedOver(story: Story, place: Place, address: string, survey: Survey | undefined): Mend[] {
  const saw = new Map<string, readonly number[]>()
  for (const cause of survey === undefined ? [] : whyNot(survey, address).causes) {
    if (cause.kind !== 'gate' || cause.address !== address) continue
    for (const { stepsOver, saw: values } of cause.parts)
      if (stepsOver !== undefined && values[0] !== undefined) saw.set(values[0].id, values[0].values.map(Number))
  }
  const mends: Mend[] = []
  for (const nearest of [false, true]) {
    let says: string | undefined
    const turn = (expr: Expr): Expr => {
      if (expr.kind === 'and') return patch(expr, { left: turn(expr.left), right: turn(expr.right) })
      if (expr.kind !== 'compare' || expr.op !== '==' || expr.left.kind !== 'entry' || expr.right.kind !== 'int')
        return expr
      const op = direction(story, expr.left.id)
      if (op === undefined) return expr
      const occurring = saw.get(expr.left.id)
      const number =
        nearest && occurring !== undefined
          ? op === '>='
            ? Math.max(...occurring)
            : Math.min(...occurring)
          : expr.right.value
      says = `ask for ${expr.left.id.replaceAll('_', ' ')} ${op} ${number}: it steps over ${expr.right.value}`
      return { ...expr, op, right: { ...expr.right, value: number } }
    }
    const found = withWhen(place, (when) => {
      const parsed = cachedExpression(when)
      return parsed.ok ? printExpression(turn(parsed.value)) : when
    })
    if (found !== undefined && says !== undefined && mends.every((mend) => mend.says !== says))
      mends.push({ says, change: replaced(place, found) })
  }
  return mends
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
function withWhen({ beat, address }: Place, change: (when: string) => string | undefined): Beat | undefined {
  const next = patchPart(beat, address, (owner) => {
    const { when } = owner
    if (when === undefined) return owner
    const other = change(when)
    if (other === when) return owner
    const copy = { ...owner, when: other }
    if (other === undefined) delete copy.when
    return copy
  })
  return next === beat ? undefined : next
}
