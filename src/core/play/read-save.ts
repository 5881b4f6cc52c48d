import { At, ShapeTrouble } from '../base/at'
import { SAVE_VERSION } from '../base/limits'
import { parseJson } from '../base/parse-json'
import { fail, ok, type Result } from '../base/result'
import type { EntryValue } from '../story/types'

/** A playthrough where it rests, by names alone, so that another version of the story can take it up. */
export interface Save {
  readonly paperCompassSave: 1
  readonly at: string
  readonly status: 'choice' | 'word' | 'ended' | 'stuck'
  readonly ending: string | null
  readonly place: string | null
  readonly ledger: Readonly<Record<string, EntryValue>>
  readonly stages: Readonly<Record<string, string>>
  readonly visits: Readonly<Record<string, number>>
  readonly taken: readonly string[]
  readonly turns: Readonly<Record<string, number>>
  /** By which turns of the order "any" are picked, where they are. */
  readonly seed?: number
}

/** Why a save can't be taken up: a sentence, and where something else was expected. */
export interface SaveTrouble {
  readonly message: string
  readonly where?: string
  readonly expected?: string
}

/** Reads a save, as text or parsed already; a damaged one is refused with the place. Without Zod, as games read saves too. */
export function readSave(source: unknown): Result<Save, SaveTrouble> {
  const refused = (why: string) => `this save can not be read: ${why}`
  const parsed = typeof source === 'string' ? parseJson(source) : ok(source)
  if (!parsed.ok) return fail({ message: refused(`it is not JSON (${parsed.error})`) })
  try {
    return ok(saveAt(new At(parsed.value, '')))
  } catch (error) {
    if (!(error instanceof ShapeTrouble)) throw error
    const { message, where, expected } = error
    return fail({ message: refused(message), where, expected })
  }
}

function saveAt(at: At): Save {
  const version = at.key('paperCompassSave')
  if (version.value !== SAVE_VERSION) version.fail(String(SAVE_VERSION))
  const orNull = (one: At) => (one.value === null ? null : one.string())
  const count = (one: At) => (one.integer() < 0 ? one.fail('0 or more') : one.integer())
  const seed = at.maybe('seed', (one) => one.integer())
  return {
    paperCompassSave: SAVE_VERSION,
    at: at.key('at').string(),
    status: at.key('status').oneOf(['choice', 'word', 'ended', 'stuck']),
    ending: orNull(at.key('ending')),
    place: orNull(at.key('place')),
    ledger: at
      .key('ledger')
      .record((one) => (typeof one.value === 'boolean' || typeof one.value === 'number' ? one.value : one.string())),
    stages: at.key('stages').record((one) => one.string()),
    visits: at.key('visits').record(count),
    taken: at.key('taken').list((one) => one.string()),
    turns: at.key('turns').record(count),
    ...(seed === undefined ? {} : { seed }),
  }
}
