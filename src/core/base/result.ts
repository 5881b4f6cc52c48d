/** An expected failure is a value: callers must look before they use it. */
export type Result<T, E = string> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly error: E }

export function ok<T>(value: T): { readonly ok: true; readonly value: T } {
  return { ok: true, value }
}

export function fail<E>(error: E): { readonly ok: false; readonly error: E } {
  return { ok: false, error }
}
