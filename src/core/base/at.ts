/** What is not as it should be in JSON that came from outside: where, and what was expected there. */
export class ShapeTrouble extends Error {
  constructor(
    readonly where: string,
    readonly expected: string,
    found?: unknown,
  ) {
    super(`${where}: expected ${expected}${found === undefined ? '' : `, found ${shown(found)}`}`)
    this.name = 'ShapeTrouble'
  }
}

function shown(value: unknown): string {
  if (Array.isArray(value)) return 'a list'
  if (typeof value === 'object' && value !== null) return 'an object'
  const text = JSON.stringify(value) ?? 'nothing'
  return text.length > 40 ? `${text.slice(0, 40)}…` : text
}

/** One value of JSON, and where it stands; asked for what is expected there. Whatever is not there throws `ShapeTrouble`. */
export class At {
  constructor(
    readonly value: unknown,
    readonly where: string,
  ) {}

  key(name: string): At {
    return new At((this.object() as Record<string, unknown>)[name], this.where === '' ? name : `${this.where}.${name}`)
  }

  /** The value under a key, read; undefined where the key is not there. */
  maybe<T>(name: string, read: (at: At) => T): T | undefined {
    const at = this.key(name)
    return at.value === undefined ? undefined : read(at)
  }

  /** All values of an object, each read, under their keys. */
  record<T>(read: (at: At) => T): Record<string, T> {
    return Object.fromEntries(Object.keys(this.object()).map((key) => [key, read(this.key(key))]))
  }

  object(): object {
    if (typeof this.value !== 'object' || this.value === null || Array.isArray(this.value)) this.fail('an object')
    return this.value
  }

  list<T>(read: (at: At, index: number) => T): T[] {
    if (!Array.isArray(this.value)) this.fail('a list')
    return this.value.map((item: unknown, index) => read(new At(item, `${this.where}[${index}]`), index))
  }

  items(): readonly At[] {
    return this.list((at) => at)
  }

  /** The list under a key, empty where the key is not there. */
  listOf<T>(name: string, read: (at: At, index: number) => T): T[] {
    return this.maybe(name, (at) => at.list(read)) ?? []
  }

  string(): string {
    if (typeof this.value !== 'string') this.fail('a text')
    return this.value
  }

  boolean(): boolean {
    if (typeof this.value !== 'boolean') this.fail('true or false')
    return this.value
  }

  integer(): number {
    if (typeof this.value !== 'number' || !Number.isSafeInteger(this.value)) this.fail('a whole number')
    return this.value
  }

  /** The place of one of `count` things. */
  index(count: number, what: string): number {
    const at = this.integer()
    if (at < 0 || at >= count) this.fail(`the number of ${what}, below ${count}`)
    return at
  }

  oneOf<T extends string>(allowed: readonly T[]): T {
    if (!allowed.includes(this.value as T)) this.fail(`one of ${allowed.join(', ')}`)
    return this.value as T
  }

  fail(expected: string): never {
    throw new ShapeTrouble(this.where === '' ? 'the file' : this.where, expected, this.value)
  }
}
