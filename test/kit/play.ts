import type * as Runtime from '../../packages/runtime/src/index'
import type { Act, Found, Traces } from './traces'

type Module = Pick<typeof Runtime, 'loadBundle' | 'RuntimeError'>

/** Plays the traces of a file with the runtime, as a game would; gives what was found instead of what was expected, by trace and step. */
export function playTraces(
  runtime: Module,
  { bundle, traces }: Traces,
): { found: unknown; expected: unknown; at: string }[] {
  const story = runtime.loadBundle(JSON.stringify(bundle))
  const differing: { found: unknown; expected: unknown; at: string }[] = []
  for (const [number, { language, seed, steps, save }] of traces.entries()) {
    let game: Runtime.Playthrough | undefined
    let ledger: Record<string, unknown> = {}
    let stages: Record<string, unknown> = {}
    const act = (what: Act): Runtime.Playthrough => {
      if ('begin' in what) return story.begin({ given: what.begin, language, seed })
      if ('choose' in what) return game!.choose(what.choose)
      if ('say' in what) return game!.say(what.say)
      if ('give' in what) return game!.give(what.give)
      game!.load(JSON.stringify(game!.save()))
      return game!
    }
    for (const [step, { do: what, expect: expected }] of steps.entries()) {
      let found: Found
      try {
        game = act(what)
        found = foundIn(game, ledger, stages)
        ledger = game.ledger
        stages = game.stages
      } catch (error) {
        if (!(error instanceof runtime.RuntimeError)) throw error
        found = { refused: true }
      }
      if (JSON.stringify(sorted(found)) === JSON.stringify(sorted(expected))) continue
      differing.push({ at: `trace ${number + 1}, step ${step + 1}`, found, expected })
      break
    }
    if (save !== undefined && JSON.stringify(sorted(game!.save())) !== JSON.stringify(sorted(save)))
      differing.push({ at: `trace ${number + 1}, save`, found: game!.save(), expected: save })
  }
  return differing
}

function foundIn(game: Runtime.Playthrough, ledger: Record<string, unknown>, stages: Record<string, unknown>): Found {
  const { status, beat, prompt, ending } = game
  const changed = <T>(now: Readonly<Record<string, T>>, before: Record<string, unknown>) =>
    Object.fromEntries(Object.entries(now).filter(([key, value]) => before[key] !== value))
  return {
    lines: game.lines.map(({ beat: _beat, cues: _cues, ...line }) => line),
    ...(game.cues.length === 0 ? {} : { cues: game.cues.map(({ name: _name, ...cue }) => cue) }),
    status,
    ...(beat === undefined ? {} : { beat }),
    ...(status === 'choice' || status === 'stuck'
      ? { choices: game.choices.map(({ who: _who, why: _why, ...choice }) => choice) }
      : {}),
    ...(prompt === undefined ? {} : { prompt }),
    ...(ending === undefined ? {} : { ending: { id: ending.id, name: ending.name } }),
    ledger: changed(game.ledger, ledger),
    stages: changed(game.stages, stages),
    journal: game.journal.map(({ outcome: _outcome, ...page }) => page),
  }
}

/** The same with keys in order. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted)
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, inner]) => [key, sorted(inner)]),
  )
}
