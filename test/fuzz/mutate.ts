import type { Random } from '../../src/core/base/random'

const LETTERS = [
  'a',
  'Z',
  '0',
  ' ',
  '\n',
  '\0',
  '\ud800',
  '\u202e',
  'é',
  '東',
  '🧭',
  '{',
  '}',
  "'",
  '"',
  '\\',
  '<',
  '#',
  '|',
  '&',
  '.',
]

export function randomText(random: Random, most = 30): string {
  return Array.from({ length: random.below(most) }, () => random.pick(LETTERS)).join('')
}

const KEYS = [
  'id',
  'to',
  'when',
  'do',
  'text',
  'lines',
  'choices',
  'constructor',
  '__proto__',
  'toString',
  'kind',
  'notes',
  'min',
  'x',
]

/** Any JSON value, small. */
export function randomJson(random: Random, depth = 3): unknown {
  switch (random.below(depth > 0 ? 9 : 7)) {
    case 0:
      return null
    case 1:
      return random.chance(0.5)
    case 2:
      return random.pick([0, -1, 1.5, 1e300, -0, 2 ** 53, 99, NaN])
    case 3:
    case 4:
      return randomText(random)
    case 5:
      return ''
    case 6:
      return random.pick(['s0.b0', 'return', 'quest.q0', 'end0', 'coin', 'true'])
    case 7:
      return Array.from({ length: random.below(4) }, () => randomJson(random, depth - 1))
    default:
      return Object.fromEntries(
        Array.from({ length: random.below(4) }, () => [random.pick(KEYS), randomJson(random, depth - 1)]),
      )
  }
}

/** A copy of a document in which a few things are gone, doubled, elsewhere or something else. */
export function mutate(json: unknown, random: Random): unknown {
  let copy = JSON.parse(JSON.stringify(json)) as unknown
  for (let times = 1 + random.below(3); times > 0; times -= 1) copy = mutateOnce(copy, random)
  return copy
}

interface Spot {
  readonly parent: Record<string, unknown> | unknown[]
  readonly key: string
}

function spots(json: unknown, found: Spot[] = []): Spot[] {
  if (typeof json !== 'object' || json === null) return found
  for (const [key, value] of Object.entries(json)) {
    found.push({ parent: json as Record<string, unknown>, key })
    spots(value, found)
  }
  return found
}

function mutateOnce(json: unknown, random: Random): unknown {
  const all = spots(json)
  if (all.length === 0) return randomJson(random)
  const { parent, key } = random.pick(all)
  const object = parent as Record<string, unknown>
  switch (random.below(6)) {
    case 0:
      if (Array.isArray(parent)) parent.splice(Number(key), 1)
      else delete object[key]
      break
    case 1:
      object[key] = randomJson(random)
      break
    case 2: {
      const other = random.pick(all)
      object[key] = structuredClone((other.parent as Record<string, unknown>)[other.key])
      break
    }
    case 3:
      if (Array.isArray(parent)) parent.push(structuredClone(parent[Number(key)]))
      else object[random.pick(KEYS)] = randomJson(random)
      break
    case 4:
      if (typeof object[key] === 'string') {
        const text = object[key]
        const at = random.below(text.length + 1)
        object[key] = text.slice(0, at) + randomText(random, 6) + text.slice(at + random.below(3))
      } else object[key] = randomText(random)
      break
    default:
      if (typeof object[key] === 'number') object[key] = random.pick([-1, 0, 1, 7, 2 ** 53, -(2 ** 53), 1e9])
      else object[key] = randomJson(random, 1)
  }
  return json
}
