import { numberSetting } from '../../core/base/number-setting'
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
  const said = env.PAPER_COMPASS_NIGHT?.trim() || NIGHT
  if (said !== 'off' && said.split(/\s+/).length !== 5)
    return fail(
      `PAPER_COMPASS_NIGHT is "${said}"; expected five parts of a cron expression, such as "${NIGHT}", or off`,
    )
  const seconds = numberSetting(env, 'PAPER_COMPASS_WORK_SECONDS', 3_600)
  const megabytes = numberSetting(env, 'PAPER_COMPASS_WORK_MB', 4_096)
  const lostS = numberSetting(env, 'PAPER_COMPASS_WORK_LOST_SECONDS', 30)
  if (!seconds.ok) return seconds
  if (!megabytes.ok) return megabytes
  if (!lostS.ok) return lostS
  const bounds = { seconds: seconds.value, megabytes: megabytes.value }
  return ok({ bounds, lostS: lostS.value, night: said === 'off' ? undefined : said })
}
