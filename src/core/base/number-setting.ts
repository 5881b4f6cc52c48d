import { fail, ok, type Result } from './result'

/** A setting that is a number above 0, or what holds where it is not set; or what is wrong with it. */
export function numberSetting(
  env: Readonly<Record<string, string | undefined>>,
  name: string,
  otherwise: number,
): Result<number> {
  const text = env[name]?.trim()
  if (text === undefined || text === '') return ok(otherwise)
  const value = Number(text)
  return Number.isFinite(value) && value > 0 ? ok(value) : fail(`${name} is "${text}"; expected a number above 0`)
}
