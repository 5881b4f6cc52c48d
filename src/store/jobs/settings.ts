import { fail, ok, type Result } from '../../core/base/result'
import type { HeavyBounds } from './heavy'

/** How heavy work is done, by settings. */
export interface JobSettings {
  readonly bounds: HeavyBounds
  readonly lostS: number
  /** When a night begins, as a cron expression in UTC; undefined: never by itself. */
  readonly night: string | undefined
}

/** At three in the morning. */
const NIGHT = '0 3 * * *'

type Environment = Readonly<Record<string, string | undefined>>

/** Reads the settings, or says which one is wrong. */
export function jobSettings(env: Environment): Result<JobSettings> {
  const troubles: string[] = []
  const number = (name: string, otherwise: number) => {
    const text = env[`PAPER_COMPASS_${name}`]?.trim()
    if (text === undefined || text === '') return otherwise
    const value = Number(text)
    if (Number.isFinite(value) && value > 0) return value
    troubles.push(`PAPER_COMPASS_${name} is "${text}"; expected a number above 0`)
    return otherwise
  }
  const said = env.PAPER_COMPASS_NIGHT?.trim() || NIGHT
  if (said !== 'off' && said.split(/\s+/).length !== 5)
    troubles.push(
      `PAPER_COMPASS_NIGHT is "${said}"; expected five parts of a cron expression, such as "${NIGHT}", or off`,
    )
  const settings = {
    bounds: { seconds: number('WORK_SECONDS', 3_600), megabytes: number('WORK_MB', 4_096) },
    lostS: number('WORK_LOST_SECONDS', 30),
    night: said === 'off' ? undefined : said,
  }
  return troubles.length === 0 ? ok(settings) : fail(troubles[0]!)
}
