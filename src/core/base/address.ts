import { beatAddress, type BeatAddress } from './ids'

/**
 * Addresses of what stands in a story: a beat `scene.beat`, a choice `scene.beat.choice`, and parts of either behind a
 * `#`, counted from 1: `quay.morning#line2.variant1.line1`, `quay.morning#line3.turn1`, `quay.morning.pay#2`. They are taken apart and put together
 * here and nowhere else.
 */

/** A rule of a choice's list has a number alone. */
export type StepKind = 'redirect' | 'arrive' | 'onward' | 'line' | 'variant' | 'turn' | 'rule'

export interface Step {
  readonly of: StepKind
  /** Counted from 1. */
  readonly number: number
}

export interface Address {
  readonly scene: string
  readonly beat: string
  readonly choice?: string
  /** From the beat or choice inwards. */
  readonly steps: readonly Step[]
}

const ADDRESS = /^([a-z]\w*)\.([a-z]\w*)(?:\.([a-z]\w*))?(?:#(.+))?$/
const STEP = /^(redirect|arrive|onward|line|variant|turn)([1-9]\d*)$/
const NUMBER = /^[1-9]\d*$/

/** Undefined where the text is no address. */
export function parseAddress(text: string): Address | undefined {
  const match = ADDRESS.exec(text)
  if (match === null) return undefined
  const [, scene, beat, choice, inner] = match
  const steps: Step[] = []
  for (const part of inner?.split('.') ?? []) {
    const step = STEP.exec(part)
    if (step !== null) steps.push({ of: step[1] as StepKind, number: Number(step[2]) })
    else if (choice !== undefined && NUMBER.test(part)) steps.push({ of: 'rule', number: Number(part) })
    else return undefined
  }
  return { scene: scene!, beat: beat!, ...(choice === undefined ? {} : { choice }), steps }
}

export function printAddress({ scene, beat, choice, steps }: Address): string {
  const owner = choice === undefined ? `${scene}.${beat}` : `${scene}.${beat}.${choice}`
  if (steps.length === 0) return owner
  return `${owner}#${steps.map(({ of, number }) => (of === 'rule' ? number : `${of}${number}`)).join('.')}`
}

/** The beat that an address names or lies in: of `quay.morning.pay#2` it is `quay.morning`. */
export function beatOf(text: string): BeatAddress | undefined {
  const address = parseAddress(text)
  return address && beatAddress(address.scene, address.beat)
}

/** The scene that an address lies in, whether there is one or not. */
export function sceneOfAddress(text: string): string {
  return text.slice(0, Math.max(0, text.indexOf('.')))
}

/** What an address names without its steps: the beat or the choice. */
export function ownerOf(text: string): string {
  const address = parseAddress(text)
  return address === undefined ? text : printAddress({ ...address, steps: [] })
}

/** The same part of another beat. */
export function inBeat(text: string, to: { readonly scene: string; readonly beat: string }): string {
  const address = parseAddress(text)
  return address === undefined ? text : printAddress({ ...address, ...to })
}

/** What `quest.stage` names. */
export function parseStage(text: string): { readonly quest: string; readonly stage: string } | undefined {
  const match = /^([a-z]\w*)\.([a-z]\w*)$/.exec(text)
  return match === null ? undefined : { quest: match[1]!, stage: match[2]! }
}
