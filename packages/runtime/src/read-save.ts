import { SAVE_VERSION } from '../../../src/core/base/limits'
import { At, BundleTrouble } from '../../../src/core/formats/bundle/decode'
import { RuntimeError } from './error'
import type { Save } from './types'

/** A save from its text, or parsed already. One that is damaged is refused with the place. */
export function readSave(source: Save | string): Save {
  try {
    const at = new At(typeof source === 'string' ? parse(source) : source, '')
    const version = at.key('paperCompassSave')
    if (version.value !== SAVE_VERSION) version.fail(String(SAVE_VERSION))
    const record = <T>(name: string, read: (one: At) => T) => {
      const all = at.key(name)
      return Object.fromEntries(Object.keys(all.object()).map((key) => [key, read(all.key(key))]))
    }
    const orNull = (one: At) => (one.value === null ? null : one.string())
    const count = (one: At) => (one.integer() < 0 ? one.fail('0 or more') : one.integer())
    const seed = at.maybe('seed', (one) => one.integer())
    return {
      paperCompassSave: 1,
      at: at.key('at').string(),
      status: at.key('status').oneOf(['choice', 'word', 'ended', 'stuck']),
      ending: orNull(at.key('ending')),
      place: orNull(at.key('place')),
      ledger: record('ledger', (one) =>
        typeof one.value === 'boolean' || typeof one.value === 'number' ? one.value : one.string(),
      ),
      stages: record('stages', (one) => one.string()),
      visits: record('visits', count),
      taken: at.key('taken').list((one) => one.string()),
      turns: record('turns', count),
      ...(seed === undefined ? {} : { seed }),
    }
  } catch (error) {
    if (!(error instanceof BundleTrouble)) throw error
    throw new RuntimeError('save', `this save can not be read: ${error.message}`, error.where, error.expected)
  }
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch (error) {
    throw new RuntimeError('save', `this save can not be read: it is not JSON (${(error as Error).message})`)
  }
}
