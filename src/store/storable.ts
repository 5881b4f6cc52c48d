import { fail, ok, type Result } from '../core/base/result'

/** PostgreSQL's text holds neither U+0000 nor half a surrogate pair; such a text is refused with its place. */
export function checkStorable(value: unknown, where = ''): Result<void> {
  if (typeof value === 'string') {
    if (value.includes('\0'))
      return fail(`${where || 'a text'} holds the character U+0000, which can not be kept; delete it`)
    if (!value.isWellFormed())
      return fail(`${where || 'a text'} holds half of a character pair, which can not be kept; type the character anew`)
    return ok(undefined)
  }
  if (value === null || typeof value !== 'object') return ok(undefined)
  for (const [key, inner] of Object.entries(value)) {
    const place = Array.isArray(value) ? `${where}[${key}]` : where === '' ? key : `${where}.${key}`
    const name = checkStorable(key, 'a key')
    if (!name.ok) return name
    const checked = checkStorable(inner, place)
    if (!checked.ok) return checked
  }
  return ok(undefined)
}
